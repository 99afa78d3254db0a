"""Darts in from both closing edges: they gape as the limb turns, close hole on hole, and what closes the wrap goes on past
them.
"""

from dataclasses import replace
from itertools import product

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.core.draft.test_darts import BELLY, FLARE, rounded
from tests.core.draft.test_flatten import cone
from tests.core.draft.test_limb_wrap import CALF, cuff
from tests.jobs import words
from tests.many import examples
from vow_line.core.curve import arc_length, frozen
from vow_line.core.draft.flatten import flatten
from vow_line.core.draft.kinds.limb_wrap.closure import Closure
from vow_line.core.draft.kinds.limb_wrap.closures.buckled import Buckled
from vow_line.core.draft.kinds.limb_wrap.closures.buttons import Buttoned
from vow_line.core.draft.kinds.limb_wrap.closures.hooked import Hooked
from vow_line.core.draft.kinds.limb_wrap.closures.laced import Laced
from vow_line.core.draft.kinds.limb_wrap.closures.studs import Studs
from vow_line.core.draft.kinds.limb_wrap.edge_darts import SHARES, EdgeDarts, Reach, clear_of
from vow_line.core.draft.kinds.limb_wrap.fold import FoldOver
from vow_line.core.draft.kinds.limb_wrap.wrap import Wrap
from vow_line.core.draft.pieces import edged
from vow_line.core.job import change, mend
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove

CLOSED = [Laced(gap_low_mm=10, gap_high_mm=4), Studs(), Buckled(), Hooked(), Buttoned()]


def darted(
    rows: tuple[tuple[float, float], ...], level_mm: float, closed: Closure | None = None, reach: Reach = "five-sixths"
) -> Plan:
    """A wrap with darts at the place nearest to a level where they are clear of what closes it."""
    closed = closed or Laced(gap_low_mm=10, gap_high_mm=4)
    plain = cuff(rows, "calf", closed=closed)
    body, margin = plain.measured.body, plain.job.piece.margin_mm

    def with_(darts: EdgeDarts | None) -> Wrap:
        return plain.job.piece.model_copy(update={"darts": darts}).wrap(body, 2.0)  # type: ignore[no-any-return]

    darts = EdgeDarts(level_mm=level_mm, reach=reach)
    at = clear_of(darts, with_(None), closed, margin, with_)
    assert at is not None
    return plan(change(plain.job, "piece.darts", darts.model_copy(update={"level_mm": at})))


@pytest.mark.parametrize("girths", [(260.0, 330.0, 300.0), (300.0, 380.0, 300.0), (330.0, 380.0, 360.0)])
def test_two_frusta_with_darts_in_to_29_of_30_gape_by_what_they_turn(girths: tuple[float, float, float]) -> None:
    """Trade: K C / 8 at each edge, K = (C2 - C1) / h1 - (C3 - C2) / h2, within 2 %; flat but for what is left between them."""
    long = 120.0
    low, high = (cone(girths[k], girths[k + 1], long, columns=61, rows=13) for k in (0, 1))
    low = low + [0.0, 0.0, high[-1, 0, 2] - low[0, 0, 2]]
    slants = [np.hypot(long, (girths[k + 1] - girths[k]) / (2 * np.pi)) for k in (0, 1)]
    turn = (girths[1] - girths[0]) / slants[0] - (girths[2] - girths[1]) / slants[1]
    assert np.allclose(high[-1], low[0]), "they meet in one girth line"
    flat = flatten(np.concatenate([high, low]), across=(len(high) - 1, (29, 31)))
    p, k = flat.points, len(high) - 1
    opens = [float(np.hypot(*(p[k, c] - p[k + 1, c]))) for c in (0, -1)]
    assert opens == pytest.approx([turn * girths[1] / 8] * 2, rel=0.02)
    assert max(flat.most.max(), -flat.least.min()) < 0.01
    assert not flat.folded
    corners = p.reshape(-1, 2)[flat.triangles]
    whole = shapely.area(shapely.polygons(corners)).sum()
    assert shapely.Polygon(flat.outline).area == pytest.approx(whole, rel=1e-9), "all of it is within its outline"


@pytest.mark.parametrize("closed", CLOSED)
@pytest.mark.parametrize("rows", [CALF, BELLY])
def test_darts_from_the_edges_close_hole_on_hole_and_the_wrap_is_as_large_as_the_limb(
    rows: tuple[tuple[float, float], ...], closed: Closure
) -> None:
    made = darted(rows, 170.0, closed)
    assert not [f for f in made.findings if f.level == "hold"]
    assert not made.failures
    assert all(c.holds for c in made.checked)
    piece, plain = made.draft.piece("wrap"), cuff(rows, "calf", closed=closed)
    assert piece.area_mm2 == pytest.approx(plain.draft.piece("wrap").area_mm2, rel=0.03)
    for k in (1, 2):
        lines = [piece.edge(f"dart-{k}-{side}").line for side in ("upper", "lower")]
        assert arc_length(lines[0])[-1] == pytest.approx(arc_length(lines[1])[-1], rel=0.025)
        tips = min(float(np.hypot(*(a - b))) for a in lines[0][[0, -1]] for b in lines[1][[0, -1]])
        assert tips == pytest.approx(0.0, abs=1e-6), "they meet at its tip"
        seam = made.stitching.seam(f"dart-{k}")
        assert len(seam.on(0)) == len(seam.on(1)) > 10
        for points in (seam.on(0), seam.on(1)):
            off = np.min([shapely.distance(shapely.LineString(line), shapely.points(points)) for line in lines], axis=0)
            assert off == pytest.approx(made.job.piece.margin_mm, abs=0.15)
            assert shapely.Polygon(piece.outline).covers(shapely.MultiPoint(points))
    steps = [s.id for s in made.work.steps]
    assert {"sew/dart-1", "sew/dart-2"} <= {*steps}
    assert [s for s in steps if s.startswith("edge/wrap/") and ("left" in s or "right" in s)] == ["edge/wrap/left"], (
        "in one go"
    )
    upper, lower = (piece.edge(f"dart-1-{side}").line for side in ("upper", "lower"))
    opens = next(r.number for r in made.draft.reckonings if r.key == "darts")
    assert opens == pytest.approx(float(np.hypot(*(upper[-1] - lower[0]))), abs=0.2), "as far apart as it is cut"
    before, after = (p.job.piece.wrap(p.measured.body, 2.0) for p in (plain, made))
    assert (after.strains[0][after.first.flat.across] == 0).all(), "between their sides there is nothing to strain"
    assert max(after.stretched, after.shrunk) < 0.9 * max(before.stretched, before.shrunk)


@pytest.mark.parametrize("reach", list(SHARES))
def test_they_reach_in_as_far_as_is_asked_and_even_limbs_have_them_alike(reach: Reach) -> None:
    made = darted(BELLY, 175.0, Laced(gap_low_mm=0, gap_high_mm=0), reach)
    made = plan(change(made.job, "thing", rounded(BELLY)))
    body, level = made.measured.body, made.job.piece.darts.level_mm
    half = (float(body.girth_at(np.array(level))) + 2 * np.pi * 0.5 * 2.0) / 2
    left, right = (float(arc_length(made.draft.piece("wrap").edge(f"dart-{k}-upper").line)[-1]) for k in (1, 2))
    assert left == pytest.approx(right, abs=0.01)
    assert left == pytest.approx(SHARES[reach] * half, rel=0.03), "flat it strains a little"


@pytest.mark.parametrize("closed", CLOSED)
def test_what_closes_it_stands_as_far_from_each_other_when_the_darts_are_sewn(closed: Closure) -> None:
    made = darted(BELLY, 170.0, closed)
    wrap = made.job.piece.wrap(made.measured.body, 2.0)
    k = wrap.first.flat.across
    assert k is not None
    for row, edge in zip(
        closed.rows(wrap), wrap.closing if closed.by in ("studs", "hooked") else (wrap.left, wrap.right), strict=True
    ):
        # sewn, what lies below a dart is drawn up to what lies above it: walk the edge so
        parts = [shapely.LineString(edge[: k + 1]), shapely.LineString(edge[k + 1 :])]
        at = []
        for p in map(shapely.Point, row):
            below = parts[1].distance(p) < parts[0].distance(p)
            at.append(parts[below].project(p) + (parts[0].length if below else 0.0))
        steps = -np.diff(at)
        assert steps == pytest.approx(np.full(len(steps), steps.mean()), rel=0.06)
        assert steps.mean() >= closed.spacing_mm - 3.0
        ends = at[-1], parts[0].length + parts[1].length - at[0]
        assert ends == pytest.approx((closed.ends_mm, closed.ends_mm), abs=3.0)


def test_a_lace_goes_on_over_the_darts_as_they_are_sewn() -> None:
    """Its holes stand as far from each other everywhere: across, and crossing to the next of them on either side; and it goes
    through the leather once at each of them.
    """
    made = darted(BELLY, 170.0, Laced(gap_low_mm=10, gap_high_mm=10))
    (lace,) = made.draft.assembly.laces
    closed, n = made.job.piece.closed, len(lace.rows[0])
    long_mm = sum(float(arc_length(made.draft.piece("wrap").edge(e).line)[-1]) for e in ("left", "left-low"))
    step, across = (long_mm - 2 * closed.ends_mm) / (n - 1), 10 + 2 * closed.in_mm
    through_mm = 2 * n * made.job.leather.thickness_mm
    long = across + 2 * (n - 1) * np.hypot(step, across) + through_mm + 400
    assert lace.long_mm == pytest.approx(long, rel=0.006)
    assembly, body = made.draft.assembly, made.measured.body
    longer = replace(assembly, laces=(replace(lace, long_mm=lace.long_mm + 40.0),))
    assert "lace-length" in {f.code for f in prove(longer, (), body).findings}


@pytest.mark.parametrize(
    ("rows", "choices", "code"),
    [
        (BELLY, {"darts": EdgeDarts(level_mm=5)}, "darts-off"),
        (BELLY, {"darts": EdgeDarts(level_mm=900)}, "darts-off"),
        (BELLY, {"darts": EdgeDarts(level_mm=170), "panels": 2}, "darts-idle"),
        (BELLY, {"darts": EdgeDarts(level_mm=170), "over": FoldOver()}, "darts-idle"),
        (FLARE, {"darts": EdgeDarts(level_mm=150)}, "dart-laps"),
        *((BELLY, {"darts": EdgeDarts(level_mm=at), "closed": closed}, "dart-closure")
          for at, closed in ((155, Laced()), (160, Hooked()), (160, Buttoned()), (160, Studs()))),
        (BELLY, {"darts": EdgeDarts(level_mm=170), "closed": Laced(tongue=Laced().usual_tongue)}, "tongue-darts"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_them_mends_in_one_press(rows: object, choices: dict[str, object], code: str) -> None:
    made = cuff(rows, "calf", **choices)  # type: ignore[arg-type]
    assert not made.failures
    found = next(f for f in made.findings if f.code == code)
    for way in found.mends:
        after = plan(mend(made.job, way))
        assert code not in {f.code for f in after.findings}, words(way.label)


def test_they_are_read_back_from_a_file_and_one_that_ends_early_says_so() -> None:
    made = darted(BELLY, 170.0)
    assert type(made.job).model_validate_json(made.job.model_dump_json()) == made.job
    early = "their sides meet before they are so far in as is asked: there they end"
    shares = {}
    for reach in SHARES:
        for level in (150.0, 160.0, 170.0):
            tried = plan(change(made.job, "piece.darts", EdgeDarts(level_mm=level, reach=reach)))
            flat = tried.job.piece.wrap(tried.measured.body, 2.0).first.flat
            told = [words(more) for r in tried.draft.reckonings if r.key == "darts" for more in r.more]
            shares[reach, level] = flat.joined[0] / 12 < SHARES[reach] - 1e-9
            assert (told == [early]) == shares[reach, level]
    assert set(shares.values()) == {True, False}, "both come up"


def test_a_surface_slit_from_an_end_and_across_comes_apart_at_both() -> None:
    low, high = (cone(300.0, 380.0, 100.0, columns=25, rows=9), cone(380.0, 300.0, 100.0, columns=25, rows=9))
    low = low + [0.0, 0.0, high[-1, 0, 2] - low[0, 0, 2]]
    first, last = (low, high) if np.allclose(low[-1], high[0]) else (high, low)
    points, k = np.concatenate([first, last]), len(first) - 1
    one, other = flatten(points, across=(k, (4, 20))), flatten(points, slits=((12,), 0, 4))
    both = flatten(points, slits=((12,), 0, 4), across=(k, (4, 21)))
    assert len(both.triangles) == len(one.triangles) == len(other.triangles) - 2 * 24
    p = both.points
    assert np.allclose(p[4:, 12], p[4:, 13], atol=0.05), "held together beyond its slit"
    assert np.allclose(p[k, 4:22], p[k + 1, 4:22], atol=0.05), "and between its darts"
    assert both.energies[-1] <= one.energies[-1] * (1 + 1e-6)


def test_they_are_offered_where_they_help_most_and_then_do() -> None:
    rows = ((0.0, 250.0), (75.0, 310.0), (150.0, 370.0), (225.0, 310.0), (300.0, 250.0))
    made = cuff(rows, "calf", tannage="oil")
    strained = next(f for f in made.findings if f.code == "limb-strained")
    way = next(m for m in strained.mends if "both edges" in words(m.label))
    after = plan(mend(made.job, way))
    wraps = [p.job.piece.wrap(p.measured.body, 2.0) for p in (made, after)]
    assert max(wraps[1].shrunk, wraps[1].stretched) < 0.5 * max(wraps[0].shrunk, wraps[0].stretched)
    assert not [f for f in after.findings if f.level == "hold"]


def test_chosen_from_the_board_they_mostly_lie_clear_of_what_closes_it_and_else_by_one_press() -> None:
    """Where the row comes to stand is known when they are made: before that by the line it closes along, to 2 or 3 mm."""
    met = []
    for rows, closed in product((BELLY, CALF, FLARE), CLOSED):
        made = cuff(rows, "calf", closed=closed)
        choice = next(c for c in made.draft.callouts if c.path == "piece.darts")
        after = plan(change(made.job, "piece.darts", choice.means[-1]))
        assert isinstance(after.job.piece.darts, EdgeDarts)
        if found := [f for f in after.findings if f.code == "dart-closure"]:
            met.append((rows, closed))
            assert "dart-closure" not in {f.code for f in plan(mend(after.job, found[0].mend)).findings}
    assert len(met) <= 2


def test_the_proof_finds_a_dart_that_was_not_cut() -> None:
    made = darted(BELLY, 170.0)
    assembly, body = made.draft.assembly, made.measured.body
    piece = assembly.piece("wrap")

    def whole(side: str) -> np.ndarray:
        parts = [piece.edge(side).line, piece.edge(f"{side}-low").line]
        return frozen(np.concatenate(parts if side == "right" else parts[::-1]))

    edges = [e for e in piece.edges if e.id in ("top", "right", "low", "left")]
    outline, edges_ = edged(*(replace(e, line=whole(e.id)) if e.id in ("left", "right") else e for e in edges))
    filled = replace(piece, outline=outline, edges=edges_)
    joins = tuple(j for j in assembly.joins if not j.id.startswith("dart"))
    changed = replace(assembly, pieces=(filled, *assembly.pieces[1:]), joins=joins)
    assert "does-not-close" in {f.code for f in prove(changed, (), body).findings if f.level == "hold"}


@pytest.mark.parametrize("closed", CLOSED)
def test_the_made_thing_shows_them_level_from_behind_to_the_front(closed: Closure) -> None:
    of = darted(BELLY, 170.0, closed)
    made, piece = of.made, of.draft.piece("wrap")
    ring = next(m.line for f in made.faces for m in f.marks if m.id == "wrap" and m.closed)
    sewn = sum(float(np.ptp(piece.edge(e).line[:, 1])) for e in ("left", "left-low"))
    assert np.ptp(ring[:, 1]) == pytest.approx(sewn, abs=0.5), "as high as its edge is when they are sewn"
    for front, face in zip((True, False), made.faces, strict=True):
        lines = {m.id: m.line for m in face.marks if m.id in ("dart-1", "dart-2")}
        assert lines.keys() == {"dart-1", "dart-2"}, "five sixths of the way in they are seen from either side"
        one, other = (lines[id][:, 0].mean() * (1 if front else -1) for id in ("dart-1", "dart-2"))
        assert one < 0 < other, "the left one on the left, and from behind on the right"
        heights = np.concatenate(list(lines.values()))[:, 1]
        assert np.ptp(heights) < 8.0
        out = np.abs(np.concatenate(list(lines.values()))[:, 0])
        assert (out.min() > 0.3 * np.abs(ring[:, 0]).max()) == front, "behind they begin at the closing edges"


@settings(max_examples=examples(40), deadline=None)
@given(
    st.lists(st.floats(0.94, 1.12), min_size=4, max_size=4), st.floats(90, 240), st.sampled_from(list(SHARES)),
    st.sampled_from(CLOSED),
)  # fmt: skip
def test_on_any_limb_they_lie_flat_and_hold_or_it_is_said_why_not(
    shares: list[float], level_mm: float, reach: Reach, closed: Closure
) -> None:
    girths = 300.0 * np.cumprod([1.0, *shares])
    rows = tuple(zip((0.0, 80.0, 160.0, 235.0, 300.0), girths.round(1).tolist(), strict=True))
    assume(girths.min() > 150 and girths.max() < 600)
    made = cuff(rows, "calf", closed=closed, darts=EdgeDarts(level_mm=round(level_mm), reach=reach))
    assert not made.failures
    wrong = {f.code for f in made.findings if f.level == "hold"}
    if not wrong & {"dart-laps", "dart-closure"}:
        assert not wrong
        assert shapely.LinearRing(made.draft.piece("wrap").outline).is_simple
