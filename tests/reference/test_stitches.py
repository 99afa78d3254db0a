"""Every stitch's thread against a line in space laid by hand, measured without the program's moves or lengths.

Holes lie `p` apart along x; the front is z = 0, the back z = t; the edge lies `e` beside the seam, of a butt seam the two
edges meet between the rows. The formulas named are common practice.
"""

from collections.abc import Callable

import numpy as np
import pytest

from tests.jobs import demo, read
from vow_line.core.job import change
from vow_line.core.plan import plan
from vow_line.core.stitch.straight import straight_seam
from vow_line.core.thread import Slack, Thread, ThreadChoices, sewn_with
from vow_line.core.thread.stitches import STITCHES

P, T, E = 4.5, 6.0, 3.5
BARE = ThreadChoices(
    thread=Thread(diameter_mm=1e-9), compression=0.0, back_stitches=0, slack=Slack(value=0.0), reach_mm=5000.0,
    start="first-hole",
)  # fmt: skip

Points = list[tuple[float, float, float]]


def _long(points: Points) -> float:
    return float(np.linalg.norm(np.diff(np.array(points), axis=0), axis=1).sum())


def _over_the_edge(a: int, b: int) -> Points:
    """From the back at hole a over the edge to the front at hole b: straight on the leather unrolled."""
    found = []
    for w in (0.0, E, E + T, 2 * E + T):
        x = P * (a + (b - a) * w / (2 * E + T))
        if w <= E:
            found.append((x, w, T))
        elif w <= E + T:
            found.append((x, E, T - (w - E)))
        else:
            found.append((x, 2 * E + T - w, 0.0))
    return found


def _weave(holes: list[int], z: float) -> Points:
    """In and out through the holes, beginning on the face z."""
    found: Points = []
    for hole in holes:
        found += [(P * hole, 0.0, z), (P * hole, 0.0, T - z)]
        z = T - z
    return found


def saddle(n: int) -> list[Points]:
    first = [(0.0, 0.0, 0.0), (0.0, 0.0, T)]
    return [first, [first[0], *_weave(list(range(1, n)), 0.0)], [first[1], *_weave(list(range(1, n)), T)]]


def running(n: int) -> list[Points]:
    return [_weave([*range(n), *range(n - 2, -1, -1)], T)]


def double_running(n: int) -> list[Points]:
    return [_weave(list(range(n)), T), _weave(list(range(n - 1, -1, -1)), 0.0)]


def lock(n: int) -> list[Points]:
    found = []
    for z in (0.0, T):
        line: Points = []
        for k in range(n):
            line += [(P * k, 0.0, z), (P * k, 0.0, T / 2), (P * k, 0.0, z)]
        found.append(line)
    return found


def whip(n: int) -> list[Points]:
    line: Points = []
    for k in range(n):
        line += [(P * k, 0.0, 0.0), (P * k, 0.0, T)]
        if k + 1 < n:
            line += _over_the_edge(k, k + 1)
    return [line]


def lacing(n: int) -> list[Points]:
    way = [*range(n), *range(n - 2, -1, -1)]
    line: Points = []
    for i, k in enumerate(way):
        line += [(P * k, 0.0, 0.0), (P * k, 0.0, T)]
        if i + 1 < len(way):
            line += _over_the_edge(k, way[i + 1])
    return [line]


def butt(n: int) -> list[Points]:
    found: list[Points] = [[(0.0, -E, 0.0), (0.0, E, 0.0)]]
    for y in (-E, E):
        line: Points = [(0.0, y, 0.0), (0.0, y, T)]
        for k in range(1, n):
            line += [(P * (k - 1), 0.0, T), (P * (k - 1), 0.0, 0.0), (P * k, y, 0.0), (P * k, y, T)]
        found.append(line)
    return found


def crosses(n: int) -> list[Points]:
    found: list[Points] = [[(0.0, -E, T), (0.0, E, T)]]
    for y in (-E, E):
        line: Points = [(0.0, y, T), (0.0, y, 0.0)]
        side = y
        for k in range(n - 1):
            if k % 2 == 0:
                line += [(P * (k + 1), -side, 0.0), (P * (k + 1), -side, T)]
            else:
                line += [(P * (k + 1), -side, T), (P * (k + 1), -side, 0.0), (P * k, side, 0.0), (P * k, side, T)]
                if k + 2 < n:
                    line += [(P * (k + 1), side, T), (P * (k + 1), side, 0.0)]
        found.append(line)
    return found


def zigzag(n: int) -> list[Points]:
    way = [*range(n), *range(n - 2, -1, -1)]
    z, line = T, []
    for k in way:
        y = -E if k % 2 == 0 else E
        line += [(P * k, y, z), (P * k, y, T - z)]
        z = T - z
    return [line]


def temporary(n: int) -> list[Points]:
    return [_weave([*range(0, n - 1, 3), n - 1], 0.0)]


BY_HAND: dict[str, Callable[[int], list[Points]]] = {
    "saddle": saddle, "running-down-and-back": running, "double-running": double_running, "awl-lockstitch": lock,
    "whip": whip, "edge-lacing": lacing, "butt": butt, "crosses": crosses, "zigzag": zigzag, "temporary": temporary,
}  # fmt: skip


def test_every_stitch_was_laid_by_hand() -> None:
    assert set(BY_HAND) == set(STITCHES)


@pytest.mark.parametrize("name", sorted(BY_HAND))
@pytest.mark.parametrize("n", [2, 3, 8, 13])
def test_thread_against_the_line_laid_by_hand(name: str, n: int) -> None:
    stitch = STITCHES[name]
    seam = straight_seam(P * (n - 1), P, T, E, stitch.sews[0])
    sewn = sewn_with(stitch, seam, BARE)
    assert len(seam.points) == n
    assert sewn.path_mm == pytest.approx(sum(_long(line) for line in BY_HAND[name](n)), rel=1e-5)


EACH: dict[str, float] = {
    "saddle": 2 * (P + T), "running-down-and-back": 2 * (P + T), "double-running": 2 * (P + T),
    "awl-lockstitch": 2 * (P + T), "whip": T + np.hypot(2 * E + T, P), "edge-lacing": 2 * (T + np.hypot(2 * E + T, P)),
    "butt": 2 * (np.hypot(E, P) + E + 2 * T), "crosses": 2 * (np.hypot(2 * E, P) + P + 2 * T),
    "zigzag": 2 * (np.hypot(2 * E, P) + T),
}  # fmt: skip


@pytest.mark.parametrize("name", sorted(EACH))
def test_what_a_pitch_takes(name: str) -> None:
    """Common practice, stitch by stitch; over two pitches, since some stitches do not come round sooner."""
    stitch = STITCHES[name]
    few, more = (sewn_with(stitch, straight_seam(P * n, P, T, E, stitch.sews[0]), BARE).path_mm for n in (20, 22))
    assert more - few == pytest.approx(2 * EACH[name])


def test_the_free_thread_of_a_lockstitch_is_about_twice_the_seam_in_thin_leather() -> None:
    """Common practice: in leather about a stitch thick the free thread is cut at twice the seam."""
    seam = straight_seam(400.0, 4.0, 3.6)
    sewn = sewn_with(STITCHES["awl-lockstitch"], seam, BARE)
    reserve = sewn.reserve_mm / 2
    awl, free = sewn.cuts[0].thread_mm
    assert free - reserve == pytest.approx(2 * 400, rel=0.06)
    assert awl == pytest.approx(free)


def test_a_doubled_thread_takes_twice_as_much() -> None:
    seam = straight_seam(100.0, 4.0, 4.0)
    one = sewn_with(STITCHES["saddle"], seam, BARE)
    two = sewn_with(STITCHES["saddle"], seam, BARE.model_copy(update={"doubled": True}))
    assert two.path_mm == pytest.approx(2 * one.path_mm)


@pytest.mark.parametrize("across", [25.0, 42.0, 90.0])
@pytest.mark.parametrize("margin", [3.0, 5.0])
def test_thread_round_a_base_lies_on_the_wall_outside_and_on_the_disc_below(across: float, margin: float) -> None:
    """In space: the holes of the wall on a cylinder as wide as the tube outside, those of the disc on its ring underneath, the
    way between them aslant through the corner; chords between them, by hand.
    """
    job = change(change(demo("stone-tube"), "thing.across", read(across)), "piece.margin_mm", margin)
    planned = plan(change(job, "piece.lid", None))
    seam = planned.stitching.seam("base-seam")
    path = sewn_with(STITCHES["saddle"], seam, BARE).path_mm
    t, n = planned.draft.piece("wall").thickness_mm, len(seam.points)
    ring = float(np.hypot(*seam.points.T).mean())
    turn = np.linspace(0, 2 * np.pi, n + 1)
    outside = ring + margin  # as wide as the disc, which is cut to the wall
    wall = np.column_stack([outside * np.cos(turn), outside * np.sin(turn), np.full(n + 1, margin + t)])
    disc = np.column_stack([ring * np.cos(turn), ring * np.sin(turn), np.zeros(n + 1)])
    laid = _long(list(map(tuple, wall))) + _long(list(map(tuple, disc)))
    through = float(np.linalg.norm(wall[0] - disc[0]))
    assert path == pytest.approx(laid + (2 * n + 1) * through, rel=0.006)


@pytest.mark.parametrize("start", ["first-hole", "third-hole"])
def test_loops_over_the_edge_are_made_at_the_mouth_wherever_the_seam_begins(start: str) -> None:
    """The mouth is at the first hole; each loop goes over the edge there and through it again, and the length is that of both
    seams' paths with as many times 2 e + t and t more.
    """
    choices = BARE.model_copy(update={"start": start})
    seam = straight_seam(60.0, P, T, E, "line")
    plain, looped = (sewn_with(STITCHES["saddle"], seam, choices.model_copy(update={"edge_loops": n})) for n in (0, 2))
    over = [m for m in looped.moves if m.act == "edge"]
    assert [m.hole for m in over] == [0, 0]
    assert looped.path_mm - plain.path_mm == pytest.approx(2 * (2 * E + T + T))
    at: dict[int, str] = {}
    for move in looped.moves:  # each needle is where its last move left it
        assert at.get(move.needle, move.face) == move.face
        at[move.needle] = move.ends_on
