"""The made thing by other means than it is made by: paper folded by hand, what is seen at a place, distances by brute force."""

import numpy as np
import pytest
import shapely

from tests.jobs import demo, words
from tests.soak.jobs import plausible_job
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.loop import BeltLoop
from vow_line.core.job import Job, change
from vow_line.core.made import Face, Made, markings
from vow_line.core.made.lying import lie
from vow_line.core.plan import plan
from vow_line.core.steps import ornament

WORN = ("laying-knife", "hedging-knife", "turf-knife", "secateurs-holster")


def _made(job: Job) -> Made:
    planned = plan(job)
    made = planned.made
    assert made is not None, planned.failures
    return made


def _seen(face: Face, at: tuple[float, float]) -> str:
    """Which piece is uppermost at a place: the last that was drawn over it."""
    point = shapely.Point(at)
    over = [m.id for m in face.marks if m.meaning in ("grain", "flesh") and shapely.Polygon(m.line).contains(point)]
    return over[-1] if over else ""


def _middle(face: Face, id: str, meaning: str = "stitch") -> tuple[float, float]:
    line = next(m.line for m in face.marks if m.id == id and m.meaning == meaning)
    u, v = (line.min(axis=0) + line.max(axis=0)) / 2
    return float(u), float(v)


@pytest.mark.parametrize("name", WORN)
@pytest.mark.parametrize("worn", ["right", "left"])
def test_the_loop_is_seen_from_the_body_and_hidden_from_outside(name: str, worn: str) -> None:
    outside, behind = _made(change(demo(name), "piece.worn", worn)).faces
    at = _middle(behind, "belt-loop")
    assert _seen(behind, at) == "belt-loop"
    assert _seen(outside, (-at[0], at[1])) in ("sheath", "front")


@pytest.mark.parametrize("name", WORN)
def test_worn_on_the_other_side_it_is_its_mirror_image(name: str) -> None:
    """What hangs on the left is the mirror of what hangs on the right."""
    right, left = (_made(change(demo(name), "piece.worn", worn)).faces[0] for worn in ("right", "left"))
    rings = [[m.line for m in face.marks if m.meaning == "cut" and m.closed] for face in (right, left)]
    flipped = [shapely.Polygon(ring * [-1.0, 1.0]) for ring in rings[0]]
    drawn = [shapely.Polygon(ring) for ring in rings[1]]
    assert len(flipped) == len(drawn)
    shift = [a.bounds[0] - b.bounds[0] for a, b in zip(flipped, drawn, strict=True)]
    assert np.ptp(shift) < 0.1
    for a, b in zip(flipped, drawn, strict=True):
        assert shapely.affinity.translate(a, -shift[0]).symmetric_difference(b).area < 0.01 * a.area


def test_folded_as_paper_is_the_back_lies_mirrored_on_the_front() -> None:
    planned = plan(demo("laying-knife"))
    assert planned.draft is not None
    assert planned.threading is not None
    seat = next(s.line for s in planned.draft.assembly.seats if s.id == "belt-loop")
    u, v = seat.mean(axis=0)
    assert u < 0  # on the back half
    face = _made(planned.job).faces[1]  # from behind: turned over once by the fold, once by looking
    assert _middle(face, "belt-loop") == pytest.approx((u, v), abs=0.3)


@pytest.mark.parametrize("name", ["billhook-cover", "laying-knife", "hedging-knife", "spar-knife", "key-fob"])
def test_every_needle_goes_straight_through_all_layers(name: str) -> None:
    planned = plan(demo(name))
    assert planned.draft is not None
    assert planned.threading is not None
    seams = [s.seam for s in planned.threading.seams]
    leaves = lie(planned.draft.assembly, seams)
    for seam in seams:
        lie_at = [
            leaf.laid(seam.on(k))
            for k, layer in enumerate(planned.draft.assembly.join(seam.id).layers) if not layer.between
            for leaf in leaves if leaf.piece.id == layer.piece and leaf.holds(seam.on(k))
        ]  # fmt: skip
        assert len(lie_at) >= 2
        for points in lie_at[1:]:
            assert np.abs(points - lie_at[0]).max() < 0.3


@pytest.mark.parametrize("moulded", ["both", "front"])
def test_a_worked_holster_lies_as_near_its_thing_as_was_chosen(moulded: str) -> None:
    job = change(demo("secateurs-holster"), "piece.moulded", moulded)
    face = _made(job).faces[0]
    thing = shapely.Polygon(next(m.line for m in face.marks if m.meaning == "thing"))
    stitches = next(m.line for m in face.marks if m.meaning == "stitch" and m.id == "round-seam")
    cut = shapely.LinearRing(next(m.line for m in face.marks if m.meaning == "cut" and m.id == "front"))
    room = np.array([thing.distance(shapely.Point(p)) for p in stitches])
    close, margin = job.piece.close_mm, job.piece.margin_mm  # type: ignore[attr-defined]
    assert room.min() > close - 0.35  # chords between holes cut their corners
    assert np.median(room) < close + 1.5
    sides = [p for p in stitches if abs(p[1] - np.median(stitches[:, 1])) < 30]
    assert np.array([cut.distance(shapely.Point(p)) for p in sides]) == pytest.approx(margin, abs=0.35)


@pytest.mark.parametrize("formed", [False, True])
def test_a_grip_is_as_wide_as_its_shaft_and_twice_the_leather(formed: bool) -> None:
    job = change(demo("slasher-grip"), "piece.formed", formed)
    planned = plan(job)
    ring = next(m.line for m in _made(job).faces[0].marks if m.meaning == "cut" and m.id == "cover")
    for v in (20.0, 70.0, 120.0):
        across = shapely.LineString([(-200, v), (200, v)]).intersection(shapely.Polygon(ring))
        girth = planned.body.girth_at(job.piece.begins_mm + v)  # type: ignore[union-attr,attr-defined]
        assert across.length == pytest.approx(girth / np.pi + 2 * job.leather.thickness_mm, abs=0.2)


def test_the_belt_of_a_frog_hangs_as_far_above_its_band_as_was_chosen() -> None:
    job = demo("whetstone-case")
    face = _made(job).faces[1]
    belt = next(m.line for m in face.marks if m.meaning == "belt")
    band = next(m.line for m in face.marks if m.meaning == "cut" and m.id == "frog")
    assert band[:, 1].min() - belt[:, 1].max() == pytest.approx(job.piece.frog.drop_mm + 2, abs=1)  # type: ignore[attr-defined]
    assert _seen(face, _middle(face, "hanger")) == "hanger"


def test_a_belt_in_slots_is_inside_between_them_and_outside_beside() -> None:
    job = change(demo("secateurs-holster"), "piece.loop", BeltLoop(style="slots"))
    face = _made(job).faces[1]
    order = [(m.meaning, m.id, m.line) for m in face.marks]
    back = max(k for k, (meaning, id, _) in enumerate(order) if meaning == "grain" and id == "back")
    for k, (meaning, _, line) in enumerate(order):
        if meaning == "belt":
            between = abs(float(line[:, 0].mean())) < 2
            assert (k < back) == between


def test_a_flap_closes_over_the_front_where_its_studs_are() -> None:
    straps = demo("billhook-cover").piece.straps  # type: ignore[attr-defined]
    flap = straps.model_copy(update={"form": "flap", "width_mm": 100.0, "count": 2})
    face = _made(change(demo("billhook-cover"), "piece.straps", flap)).faces[0]
    posts = [m.line[0] for m in face.marks if m.id.startswith("post-hole")]
    holes = [m.line[0] for m in face.marks if m.id.startswith("stud-hole")]
    for post in posts:
        assert min(float(np.hypot(*(post - hole))) for hole in holes) < 0.5
        assert _seen(face, (float(post[0]), float(post[1]))) == "back"


def test_of_plausible_jobs_of_every_kind_every_sewn_piece_is_there() -> None:
    rng = np.random.default_rng(12)
    for n in range(3 * len(KINDS)):
        planned = plan(plausible_job(rng, n))
        made = planned.made
        assert not planned.failures
        if made is None or planned.draft is None or any(f.code == "panels-apart" for f in planned.findings):
            continue  # of two things the one is drawn
        drawn = {m.id for face in made.faces for m in face.marks}
        sewn = {x.piece for j in planned.draft.assembly.joins if j.sewing for x in j.layers if not x.between}
        bent = any("without" in words(s) for s in made.says)
        assert sewn <= drawn or (bent and planned.job.piece.kind == "panelled")


def test_partners_have_one_letter_and_seams_begin_where_the_needle_does() -> None:
    planned = plan(demo("laying-knife"))
    assert planned.draft is not None
    assert planned.stitching is not None
    marked = markings(planned.draft.assembly, planned.stitching.seams)
    assert sorted(letter for letter, _ in marked["sheath"].letters) == ["A", "B", "B"]
    assert [letter for letter, _ in marked["belt-loop"].letters] == ["A", "A"]
    assert [letter for letter, _ in marked["welt"].letters] == ["B"]
    mouth = planned.draft.piece("sheath").outline[:, 1].min()
    for (_, v), (_, way) in marked["sheath"].starts:  # both halves, from the mouth down
        assert v - mouth < 15
        assert way > 0.8


def test_a_seam_that_is_made_again_is_lettered_at_each_of_its_places() -> None:
    planned = plan(demo("gaiter"))
    assert planned.draft is not None
    assert planned.stitching is not None
    assembly = planned.draft.assembly
    marked = markings(assembly, planned.stitching.seams)
    billets = next(j for j in assembly.joins if j.id == "billet")
    assert billets.times > 2
    (letter,) = {letter for letter, _ in marked["billet"].letters}
    at = np.array([p for there, p in marked[billets.layers[0].piece].letters if there == letter])
    assert len(at) == billets.times
    assert np.ptp(at[:, 1]) > 100, "one above the other"


@pytest.mark.parametrize("name", WORN)
@pytest.mark.parametrize("worn", ["right", "left"])
def test_up_is_where_the_mouth_is_and_grain_is_outside(name: str, worn: str) -> None:
    planned = plan(change(demo(name), "piece.worn", worn))
    assert planned.draft is not None
    assert planned.stitching is not None
    marked = markings(planned.draft.assembly, planned.stitching.seams)
    for piece in planned.draft.pieces:
        mouths = [e.line for e in piece.edges if e.open == "mouth" and e.ring == 0]
        if mouths:
            up, outside = marked[piece.id].up, marked[piece.id].outside
            assert up is not None
            assert (mouths[0].mean(axis=0) - piece.outline.mean(axis=0)) @ np.array(up) > 0
            assert outside
    assert marked["welt"].up is None
    assert marked["belt-loop"].up is None  # it is folded over: up is not one way on it
    assert marked["belt-loop"].outside


def test_a_running_stitch_lies_on_one_face_where_it_is_not_on_the_other() -> None:
    """The front is the face the maker sees, that of the first layer: its grain, seen first."""
    job = change(demo("billhook-cover"), "thread.stitch", "temporary")
    planned = plan(job)
    assert planned.threading is not None
    (sewn,) = planned.threading.seams
    shown = [  # what is drawn last is uppermost
        [m for m in face.marks if m.meaning == "stitch"][-1].line.reshape(-1, 2, 2).mean(axis=1)
        for face in _made(job).faces
    ]
    holes = sewn.seam.points
    for face, lying, flip in (("front", shown[0], 1.0), ("back", shown[1], -1.0)):
        runs = {tuple(sorted((m.hole, m.to))) for m in sewn.moves if m.act == "run" and m.face == face}
        middles = np.array([holes[list(run)].mean(axis=0) for run in sorted(runs)]) * [flip, 1.0]
        assert len(lying) == len(runs)
        for middle in middles:
            assert np.hypot(*(lying - middle).T).min() < 0.5
    apart = np.hypot(*(shown[0][:, None] * [-1.0, 1.0] - shown[1][None]).transpose(2, 0, 1))
    assert apart.min() > 1.0, "no stretch lies on both"


def test_a_loop_that_hangs_is_above_what_it_hangs_by() -> None:
    loop = BeltLoop(style="hanging", hang_mm=20.0)
    face = _made(change(demo("turf-knife"), "piece.loop", loop)).faces[1]
    cut = {m.id: m.line for m in face.marks if m.meaning == "cut" and m.closed}
    hanger, hung = cut["hanger"], cut["belt-loop"]
    belt = next(m.line for m in face.marks if m.meaning == "belt")
    assert abs(hanger[:, 0].mean() - hung[:, 0].mean()) < 0.5
    assert hung[:, 1].max() - hanger[:, 1].min() == pytest.approx(loop.box_mm, abs=0.5)  # the ring is over its box
    assert hung[:, 1].min() < belt[:, 1].min()
    assert belt[:, 1].max() < hanger[:, 1].min()


def test_a_strap_goes_over_the_back_of_its_tool_and_no_farther() -> None:
    job = demo("billhook-cover")
    planned = plan(job)
    assert planned.draft is not None
    face, out = _made(job).faces[0], np.array(planned.draft.assembly.shells[0].out)
    tool = shapely.Polygon(next(m.line for m in face.marks if m.meaning == "thing"))
    across = np.array([-out[1], out[0]])
    for strap in ("strap-1", "strap-2"):
        ring = next(m.line for m in face.marks if m.meaning == "cut" and m.id == strap)
        assert np.ptp(ring @ across) == pytest.approx(job.piece.straps.width_mm, abs=0.01)  # type: ignore[attr-defined]
        middle = ring.mean(axis=0)
        ahead = middle + np.linspace(0, 300, 6001)[:, None] * out  # the tool's back, by walking along
        back = float((ahead[shapely.contains_xy(tool, ahead)] @ out).max())
        assert (ring @ out).max() - back == pytest.approx(job.leather.thickness_mm, abs=0.2)


@pytest.mark.parametrize("name", ["laying-knife", "turf-knife"])
def test_a_strap_closes_round_the_nearer_side_of_the_handle(name: str) -> None:
    job = change(demo(name), "piece.strap_mm", 18.0)
    face = _made(job).faces[0]
    thing = next(m.line for m in face.marks if m.meaning == "thing")
    ring = next(m.line for m in face.marks if m.meaning == "cut" and m.id == "strap")
    stud = [m.line[0] for m in face.marks if m.meaning == "done" and m.id == "strap"][-1]
    ends = (ring[[0, 3]].mean(axis=0), ring[[1, 2]].mean(axis=0))
    held, far = sorted(ends, key=lambda end: float(np.hypot(*(end - stud))))
    assert np.hypot(*(held - stud)) == pytest.approx(10.0, abs=0.5)  # half a lap beyond its hole
    handle = thing[np.abs(thing[:, 1] - far[1]) < 8]
    gaps = sorted(abs(float(far[0] - u)) for u in (handle[:, 0].min(), handle[:, 0].max()))
    assert gaps[0] < job.leather.thickness_mm + 1.0
    assert abs(stud[0] - far[0]) <= abs(stud[0] - (handle[:, 0].min() + handle[:, 0].max() - far[0])) + 1.0


def test_an_ornament_is_seen_on_the_side_it_is_on() -> None:
    job = ornament(demo("turf-knife"), kind="border", piece="back")
    outside, behind = _made(job).faces

    def uppermost(face: Face) -> bool:
        order = [(m.meaning, m.id) for m in face.marks if m.meaning in ("crease", "grain", "flesh")]
        k = next(n for n, (meaning, _) in enumerate(order) if meaning == "crease")
        return not {("grain", "front"), ("grain", "back")} & set(order[k:])

    assert uppermost(behind)
    assert not uppermost(outside)


def test_what_swings_on_one_rivet_is_said_not_to_be_drawn() -> None:
    roll = plan(demo("file-roll"))
    assert roll.made is not None
    assert "drawn without the tie, which swings on the rivet of the tie" in [words(s) for s in roll.made.says]
    untied = plan(change(roll.job.model_copy(update={"vows": ()}), "piece.tie", None))
    assert untied.made is not None
    assert not [s for s in untied.made.says if "drawn without" in words(s)]
