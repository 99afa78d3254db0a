import numpy as np
import pytest
import shapely
from scipy.special import ellipe

from tests.bodies import plausible
from tests.jobs import demo, read
from tests.many import many
from tests.plates import same_area
from vow_line.core.curve import arc_length
from vow_line.core.draft import Draft
from vow_line.core.draft.kinds.pouch import Pouch
from vow_line.core.job import Job, change, mend
from vow_line.core.measure.things.moulded import Moulded, Slice
from vow_line.core.plan import plan
from vow_line.core.stitch.pattern import pattern


def _thing(width: float = 60, height: float = 20, section: str = "slab", long: float = 150) -> Moulded:
    stations = tuple(Slice(at_mm=a, width=read(width), height=read(height)) for a in (0, 70, 140))
    return Moulded(stations=stations, length=read(long), section=section)


def _draft(thing: Moulded, **choices: object) -> Draft:
    return Pouch(**{"loop": None, **choices}).draft(thing.measure().body, 3.0)


def _told(draft: Draft, key: str) -> float:
    return next(r.number for r in draft.reckonings if r.key == key)


def test_a_face_over_a_slab_takes_its_height_twice() -> None:
    """Worked right down, leather goes up one side of a slab, over it and down the other."""
    draft = _draft(_thing(60, 20), moulded="front", worked_mm=100)
    assert _told(draft, "front-more") == pytest.approx(2 * 20, abs=0.1)


def test_a_face_over_an_ellipse_takes_its_half_round() -> None:
    """The half perimeter of an ellipse by the complete elliptic integral (SciPy)."""
    draft = _draft(_thing(60, 20, "ellipse"), moulded="front", worked_mm=100)
    a, b = 30.0, 20.0
    half_round = 2 * a * ellipe(1 - (b / a) ** 2)
    assert _told(draft, "front-more") == pytest.approx(half_round - 60, rel=0.02)


def test_taut_leather_takes_the_hull_and_working_it_down_takes_more() -> None:
    thing = _thing(60, 20)
    taut, some, deep = (
        _told(_draft(thing, moulded="front", worked_mm=w, close_mm=4), "front-more") for w in (0, 8, 100)
    )
    hull = shapely.MultiPoint([(-34, 0), (-30, 20), (30, 20), (34, 0)]).convex_hull
    assert taut == pytest.approx(hull.length - 68 - 68, abs=0.1)
    assert taut < some < deep


def test_the_back_is_the_front_from_behind_and_carries_as_many_holes() -> None:
    planned = plan(demo("secateurs-holster"))
    seam = planned.stitching.seam("round-seam")
    front, back = planned.draft.piece("front"), planned.draft.piece("back")
    assert same_area(front.outline * [-1, 1], back.outline)
    assert back.mirrored
    assert np.allclose(seam.on(0) * [-1, 1], seam.on(2), atol=1e-6)
    alone = plan(change(demo("secateurs-holster"), "piece.moulded", "front"))
    seam = alone.stitching.seam("round-seam")
    assert len(seam.on(0)) == len(seam.on(2))
    back_cut = shapely.Polygon(alone.draft.piece("back").outline)
    assert all(back_cut.contains(shapely.Point(p)) for p in seam.on(2))
    assert any(f.code == "partners-differ" for f in alone.findings)


def test_folded_it_is_one_piece_even_about_its_fold_and_sewn_round_the_rest() -> None:
    job = change(demo("secateurs-holster"), "piece.form", "folded")
    planned, parted = plan(job), plan(demo("secateurs-holster"))
    piece = planned.draft.piece("pouch")
    area = shapely.Polygon(piece.outline)
    assert area.is_valid
    assert area.symmetric_difference(shapely.Polygon(piece.outline * [-1, 1])).area < 1.0
    seam, other = planned.stitching.seam("round-seam"), parted.stitching.seam("round-seam")
    assert len(seam.on(0)) < len(other.on(0)), "one side is the fold"
    assert np.allclose(seam.on(0) * [-1, 1], seam.on(2), atol=1e-6)
    holes = shapely.points(np.concatenate([seam.on(0), seam.on(2)]))
    assert shapely.contains(area, holes).all()
    inner = shapely.points(np.concatenate([seam.on(0)[1:], seam.on(2)[1:]]))  # the first is 3 mm from the mouth
    assert shapely.distance(inner, area.exterior).min() > job.piece.margin_mm - 0.6


@pytest.mark.parametrize(("moulded", "height"), [("both", 20.0), ("front", 20.0), ("both", 0.2)])
def test_round_a_fold_leather_is_as_long_as_round_a_slab(moulded: str, height: float) -> None:
    """Over half the slab's height, across and down to the seam, and a quarter turn of the neutral layer; the flange beyond."""
    draft = _draft(
        _thing(60, height), moulded=moulded, form="folded", worked_mm=100, close_mm=3, margin_mm=6, mouth_ease_mm=0
    )
    whole = np.ptp(draft.piece("pouch").outline[:, 0])
    turn = np.pi / 2 * 0.4 * 3.0
    front = 60 + 2 * (height / 2 if moulded == "both" else height) + 3 + 6 + turn
    back = front if moulded == "both" else 60 + 3 + 6 + turn
    assert whole == pytest.approx(front + back, abs=0.6)


def test_worn_on_the_left_it_is_the_mirror() -> None:
    job = demo("secateurs-holster")
    right, left = plan(job).draft, plan(change(job, "piece.worn", "left")).draft
    assert same_area(right.piece("front").outline * [-1, 1], left.piece("front").outline)


def test_the_thread_keeps_its_distance_from_the_thing_laid_flat() -> None:
    """With nothing to go over the faces are the thing's own outline, its seam round it."""
    draft = _draft(_thing(60, 0.1), close_mm=5)
    seam = draft.seams[-1].line
    thing = draft.thing
    assert thing is not None
    apart = shapely.distance(shapely.points(seam), shapely.Polygon(thing))
    assert apart == pytest.approx(5, abs=0.6)


def test_a_tight_mouth_is_graded_and_eased() -> None:
    job = change(demo("secateurs-holster"), "piece.mouth_ease_mm", -12.0)
    found = next(f for f in plan(job).findings if f.code == "squeeze")
    assert found.level == "hold"
    assert not [f for f in plan(mend(job, found.mend)).findings if f.code == "squeeze"]


def test_a_high_thing_asks_for_both_faces_then_for_a_welt() -> None:
    job = change(change(demo("secateurs-holster"), "piece.moulded", "front"), "piece.welts", 0)
    first = next(f for f in plan(job).findings if f.code == "worked-deep")
    assert mend(job, first.mend).piece.moulded == "both"


def test_the_section_shows_the_thing_between_its_faces() -> None:
    section = plan(demo("secateurs-holster")).draft.section(100)
    meanings = [m.meaning for m in section.marks]
    assert meanings.count("grain") == 2
    assert meanings.count("welt") == 2
    thing = next(m for m in section.marks if m.meaning == "thing")
    assert np.ptp(thing.line[:, 0]) == pytest.approx(55.9, abs=0.6)
    leather = [shapely.Polygon(m.line).buffer(0) for m in section.marks if m.meaning == "grain"]
    assert all(shapely.Polygon(thing.line).buffer(-0.3).intersection(g).area < 1 for g in leather)


def test_where_the_back_runs_on_the_ends_may_lie_outside_the_front() -> None:
    job = change(change(demo("secateurs-holster"), "piece.back_up_mm", 45.0), "stitch.ends", "outside")
    planned = plan(job)
    inside = plan(change(job, "stitch.ends", "in"))
    seam = planned.stitching.seam("round-seam")
    front, back = (shapely.Polygon(planned.draft.piece(n).outline) for n in ("front", "back"))
    assert back.area - front.area == pytest.approx(45 * np.ptp(np.array(front.exterior.coords)[[0, -2], 0]), rel=0.1)
    assert len(seam.there(0)) == len(seam.points) - 2
    assert len(seam.there(2)) == len(seam.points)
    mouth = front.bounds[1]
    for k in (0, -1):
        assert seam.on(2)[k, 1] == pytest.approx(mouth - 2.0, abs=0.05), "half a pitch above the mouth"
        assert seam.stack_mm[k] == pytest.approx(2.8), "the back alone"
    assert seam.stack_mm[1:-1] == pytest.approx(2.8 * 2 + 3.0)
    assert shapely.contains_xy(back, *seam.on(2).T).all()
    assert shapely.contains_xy(front, *seam.on(0)[seam.there(0)].T).all()
    drawn = [m for m in pattern(planned.draft.piece("front"), planned.stitching) if m.meaning == "hole"]
    assert sum(len(m.line) for m in drawn) == len(seam.points) - 2
    assert not [f for f in planned.findings if f.code == "hole-near-edge"]
    assert len(inside.stitching.seam("round-seam").there(0)) == len(inside.stitching.seam("round-seam").points)
    loop = planned.stitching.seam("belt-loop").on(0)
    assert loop[:, 1].max() < mouth, "the loop sits on what stands up"


@pytest.mark.parametrize("seed", range(12))
def test_a_front_worked_alone_is_offered_only_where_its_seam_agrees_with_a_flat_back(seed: int) -> None:
    """By the stitched lines themselves: where they differ by more than 5 %, it is held, and one press ends it."""
    rng = np.random.default_rng(seed)
    thing = plausible(Moulded, rng, "pouch")
    flat = {"stations": tuple(s.model_copy(update={"height": read(1.5 if seed % 2 else 18.0)}) for s in thing.stations)}
    thing = thing.model_copy(update={**flat, "section": "ellipse"})
    both = plan(Job(name="any", thing=thing, piece=Pouch(moulded="both")))
    front = plan(Job(name="any", thing=thing, piece=Pouch(moulded="front")))
    line = front.draft.seams[-1]
    back = next(p.along for p in line.placed if p.along is not None)
    longer = abs(arc_length(line.line)[-1] / arc_length(back)[-1] - 1)
    offered = "piece.moulded" in {c.path for c in both.draft.callouts}
    held = [f for f in front.findings if f.code == "front-alone"]
    assert offered is bool(longer <= 0.05)
    assert bool(held) is bool(longer > 0.05)
    if held:
        assert not [
            f for f in plan(mend(front.job, held[0].mend)).findings if f.code in ("front-alone", "partners-differ")
        ]


def test_folded_over_a_nose_that_falls_back_from_the_fold_nothing_is_said_to_lie_beside_the_leather() -> None:
    """Where the fold has ended the halves are sewn on both sides, and the thing lies from thread to thread."""
    planned = plan(change(demo("secateurs-holster"), "piece.form", "folded"))
    assert not [f for f in planned.findings if f.level == "hold"]
    pouch, lying = planned.draft.piece("pouch"), planned.draft.assembly.lies
    assert {(x.how, x.part) for x in lying} == {
        ("half", "front"),
        ("face", "front"),
        ("half", "back"),
        ("face", "back"),
    }
    outline, fold = shapely.Polygon(pouch.outline).buffer(0.01), pouch.folds[0]
    for lies in lying:
        assert shapely.contains_xy(outline, *np.concatenate([lies.p, lies.q]).T).all()
        if lies.how == "half":
            assert lies.p[:, 1].max() <= fold[:, 1].max() + 0.5
    for part in ("front", "back"):
        x = np.concatenate([k.x_mm for k in lying if k.part == part])
        assert np.all(np.diff(x) > 0)
        assert np.diff(x).max() < 5


@pytest.mark.parametrize("section", ["slab", "ellipse"])
@pytest.mark.parametrize(("height", "close"), [(4.0, 3.0), (18.0, 3.0), (30.0, 8.0)])
@pytest.mark.parametrize("moulded", ["both", "front"])
def test_folded_and_not_worked_down_the_leather_goes_taut_from_the_fold_to_the_seam(
    section: str, height: float, close: float, moulded: str
) -> None:
    """From half way up its left side round the hull of thing and seam: GEOS, on points of the section itself."""
    draft = _draft(_thing(60, height, section), form="folded", moulded=moulded, worked_mm=0, close_mm=close, margin_mm=6,
                   mouth_ease_mm=0)  # fmt: skip
    share = 0.5 if moulded == "both" else 1.0
    turn = np.linspace(0, np.pi, 721)
    top = np.column_stack([-30 * np.cos(turn), 2 * share * height / 2 * np.sin(turn)])
    if section == "slab":
        top = np.array([[-30, 0], [-30, share * height], [30, share * height], [30, 0]])
    hull = shapely.MultiPoint(np.vstack([top, [[30 + close, 0]]])).convex_hull
    taut = hull.length - (60 + close)
    piece = shapely.Polygon(draft.piece("pouch").outline)
    across = piece.intersection(shapely.LineString([(0, 80), (500, 80)])).length
    assert across == pytest.approx(taut + 6 + np.pi / 2 * 0.4 * 3.0, abs=0.3)


@pytest.mark.parametrize("welts", [0, 1])
def test_a_folded_pouch_is_sewn_from_its_mouth_to_its_fold(welts: int) -> None:
    """Things, broad at their end or narrow: from the last holes to the ends of both halves' edges is no way out."""
    for seed in range(many(300)):
        rng = np.random.default_rng(seed)
        thing, worked = plausible(Moulded, rng, "pouch"), float(rng.choice([0, 4, 8, 15]))
        planned = plan(Job(name="any", thing=thing, piece=Pouch(form="folded", welts=welts, worked_mm=worked)))
        seam, piece = planned.stitching.seam("round-seam"), planned.draft.piece("pouch")
        for k, name in ((0, "front"), (-1, "back")):
            edge = shapely.LineString(next(e for e in piece.edges if e.id == name).line)
            along = np.sort(shapely.line_locate_point(edge, shapely.points(seam.on(k))))
            at_mouth, at_fold = (along[0], edge.length - along[-1])[:: 1 if name == "front" else -1]
            assert at_mouth < 3.0 + seam.pitch_mm, seed
            assert at_fold < 6.0 + seam.pitch_mm, "no farther from the fold than from the cut, and a stitch"
            assert np.diff(along).max() < 3 * seam.pitch_mm, seed
        found = [f for f in planned.findings if f.level == "hold" and f.code != "end-not-read"]
        assert not found, (seed, found[0].code)
