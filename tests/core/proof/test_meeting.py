"""What is sewn is closed from end to end, and its holes meet: sound drafts broken in their raw holes, at 1.2 times what is
borne, of every kind that has a seam; and thousands of plausible ones that are not held.
"""

from dataclasses import replace

import numpy as np
import pytest

from tests.figures import jobs
from vow_line.core.curve import frozen
from vow_line.core.draft.assembly import Assembly
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.seam_line import Placed
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.core.stitch import Seam
from vow_line.resources.demo import demo_jobs

DEMO = {name: job for name, job in demo_jobs().items() if not job.others}


class Moved(Placed):
    """A layer whose holes were made somewhere else than they are drawn."""

    def __init__(self, of: Placed, by: np.ndarray, from_hole: int = 0) -> None:
        for name in ("piece", "turn", "shift", "along", "ends", "within", "kept"):
            object.__setattr__(self, name, getattr(of, name))
        object.__setattr__(self, "by", by)

    def onto(self, points: np.ndarray, shares: np.ndarray) -> np.ndarray:
        return super().onto(points, shares) + self.by  # type: ignore[attr-defined]


def _codes(planned: Plan, seams: tuple[Seam, ...]) -> set[str]:
    return {f.code for f in prove(planned.draft.assembly, seams, planned.body).findings if f.level == "hold"}


def _with(planned: Plan, seam: Seam) -> tuple[Seam, ...]:
    return tuple(seam if s.id == seam.id else s for s in planned.stitching.seams)


def _edge_seams(planned: Plan) -> list[tuple[Seam, int]]:
    """Seams between two edges, and a layer of each that is not the first and lies at an edge."""
    found = []
    for seam in planned.stitching.seams:
        join = planned.draft.assembly.join(seam.id)
        layers = [k for k, x in enumerate(join.layers) if planned.draft.assembly.is_edge(x)]
        if join.shape != "box" and len(layers) > 1 and not seam.line.closed and not seam.line.sewing.kept:
            found.append((seam, layers[-1]))
    return found


@pytest.mark.parametrize("name", DEMO)
def test_a_row_out_of_step_is_found_on_any_layer(name: str) -> None:
    """Half a stitch, and three mm, along the seam, on one layer alone; a tenth of a stitch is a hand's, and is not."""
    planned = plan(DEMO[name])
    for seam, k in _edge_seams(planned):
        points = seam.on(k)
        along = (points[-1] - points[0]) / max(float(np.hypot(*(points[-1] - points[0]))), 1e-9)
        if np.hypot(*(points[-1] - points[0])) < 0.6 * seam.run_mm:
            along = (points[1] - points[0]) / np.hypot(*(points[1] - points[0]))
        for by, found in ((0.1 * seam.pitch_mm, False), (0.5 * seam.pitch_mm, True), (3.0, True)):
            moved = Moved(seam.line.placed[k], along * by)
            line = replace(seam.line, placed=(*seam.line.placed[:k], moved, *seam.line.placed[k + 1 :]))
            codes = _codes(planned, _with(planned, replace(seam, line=line)))
            assert ("holes-astray" in codes) is found, (seam.id, k, by, codes)


@pytest.mark.parametrize("name", DEMO)
def test_what_is_sewn_upon_a_face_lies_where_it_is_drawn(name: str) -> None:
    """Loops, laps and tabs: the row moved by 3 mm either way on any one layer; not by a tenth of one."""
    planned = plan(DEMO[name])
    for seam in planned.stitching.seams:
        join = planned.draft.assembly.join(seam.id)
        first, *others = join.layers
        upon = [planned.draft.assembly.is_edge(x) or not x.part for x in others]
        if (
            planned.draft.assembly.is_edge(first)
            or len(planned.draft.assembly.line_of(first)) < 3
            or not all(upon)
            or any(x.along is not None for x in join.layers)
        ):
            continue
        for k in range(len(join.layers)):
            for by, found in (
                ((0.2, 0.2), False),
                ((3.0, 0.0), True),
                ((-3.0, 0.0), True),
                ((0.0, 3.0), True),
                ((0.0, -3.0), True),
            ):
                moved = Moved(seam.line.placed[k], np.array(by))
                line = replace(seam.line, placed=(*seam.line.placed[:k], moved, *seam.line.placed[k + 1 :]))
                codes = _codes(planned, _with(planned, replace(seam, line=line)))
                assert ("holes-astray" in codes) is found, (seam.id, k, by, codes)


@pytest.mark.parametrize("name", DEMO)
@pytest.mark.parametrize("side", [1.0, -1.0])
def test_a_hole_beside_its_seam_is_found_inward_as_outward(name: str, side: float) -> None:
    planned = plan(DEMO[name])
    for seam, _ in _edge_seams(planned):
        n = len(seam.points) // 2
        if len(seam.points) < 5 or n in seam.corner:
            continue
        along = seam.points[n + 1] - seam.points[n - 1]
        across = np.array([-along[1], along[0]]) / np.hypot(*along) * side
        points = seam.points.copy()
        points[n] += 1.2 * across
        assert "seam-off-edge" in _codes(planned, _with(planned, replace(seam, points=frozen(points)))), seam.id


@pytest.mark.parametrize("name", DEMO)
def test_a_seam_that_ends_early_leaves_what_it_closes_open(name: str) -> None:
    """The last fifth of the holes left out of each seam that closes a shell, or the first."""
    planned = plan(DEMO[name])
    closing = {j.id for shell in planned.draft.assembly.shells for j in planned.draft.assembly.closes(shell)}
    for seam, _ in _edge_seams(planned):
        n = len(seam.points)
        out = int(np.ceil(max(0.2 * n, (6 + 2 * seam.line.margin_mm) / seam.pitch_mm + 3)))
        if seam.id not in closing or out > n - 3:
            continue
        for left in (slice(0, n - out), slice(out, n)):
            short = replace(
                seam, points=seam.points[left], s_mm=seam.s_mm[left], stack_mm=seam.stack_mm[left],
                plies_mm=tuple(p[left] for p in seam.plies_mm), order=tuple(range(n - out)), corner=(),
            )  # fmt: skip
            assert "not-covered" in _codes(planned, _with(planned, short)), (seam.id, left)
        there = np.delete(np.arange(n), [n // 2, n // 2 + 1])
        gap = replace(
            seam, points=seam.points[there], s_mm=seam.s_mm[there], stack_mm=seam.stack_mm[there],
            plies_mm=tuple(p[there] for p in seam.plies_mm), order=tuple(range(n - 2)), corner=(),
        )  # fmt: skip
        assert "not-covered" in _codes(planned, _with(planned, gap)), "two holes forgotten in the middle"


def test_what_goes_round_is_closed_by_something() -> None:
    """A wrapped piece without its seam: its edges said to be free. Of every kind that wraps something all round."""
    looked = 0
    for job in (*DEMO.values(), *jobs().values()):
        planned = plan(job)
        if planned.draft is None:
            continue
        a = planned.draft.assembly
        for shell in a.shells:
            closing = {j.id for j in a.closes(shell)}
            if (
                shell.way != "wrapped"
                or not closing
                or any(x.open_mm is not None for x in a.lies if x.shell == shell.id)
            ):
                continue
            taken = {(x.piece, x.part) for j in a.joins if j.id in closing for x in j.layers}
            pieces = tuple(
                replace(p, edges=tuple(replace(e, open="free") if (p.id, e.id) in taken else e for e in p.edges))
                for p in a.pieces
            )
            bare = Assembly(
                pieces,
                tuple(j for j in a.joins if j.id not in closing),
                a.seats,
                a.fasteners,
                a.shells,
                a.lies,
                a.straps,
            )
            found = prove(bare, tuple(s for s in planned.stitching.seams if s.id not in closing), planned.body).findings
            assert "not-closed" in {f.code for f in found if f.level == "hold"}, (type(job.piece).__name__, shell.id)
            looked += 1
    assert looked > 5
    assert KINDS
