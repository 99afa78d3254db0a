"""A new stitch is one new module, found by being there; and what is handed out cannot be written."""

import sys
from pathlib import Path

import numpy as np
import pytest

from tests.jobs import demo
from vow_line.core.draft.kind import KindOfPiece
from vow_line.core.draft.kinds import KINDS
from vow_line.core.plan import plan
from vow_line.core.thread import stitches

WHIP = '''
"""Whip stitch with one needle, for this test."""
from vow_line.core.thread.moves import Move
ID, TITLE, SAYS, THREAD_OF, SEWS = "blanket", "blanket", "over the edge in every hole", (0,), ("line",)
def moves(path):
    at = path.order[0]
    for hole in path.order:
        if hole != at:
            yield Move(0, "run", at, hole, "front")
        yield Move(0, "pass", hole, hole, "front")
        yield Move(0, "edge", hole, hole, "back")
        at = hole
'''


def test_a_stitch_is_found_by_being_there(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "blanket.py").write_text(WHIP)
    monkeypatch.setattr(stitches, "__path__", [*stitches.__path__, str(tmp_path)])
    stitch = stitches._stitch("blanket")
    monkeypatch.setitem(stitches.STITCHES, stitch.id, stitch)
    job = demo("grafting-knife").model_copy(update={"vows": ()})
    job = job.model_copy(update={"thread": job.thread.model_copy(update={"stitch": "blanket", "back_stitches": 0})})
    planned = plan(job)
    assert not [f for f in planned.findings if f.code == "stitch-unknown"]
    sewn = planned.threading.seam("main-seam")  # type: ignore[union-attr]
    assert {m.act for m in sewn.moves} == {"run", "pass", "edge"}
    assert sewn.reserve_mm == 75
    sys.modules.pop("vow_line.core.thread.stitches.blanket", None)


def test_every_kind_names_itself_and_has_a_default() -> None:
    assert KINDS
    for kind in KINDS:
        assert issubclass(kind, KindOfPiece)
        assert kind.model_fields["kind"].default


def test_a_kind_drafts_for_either_hand() -> None:
    right = plan(demo("hedging-knife"))
    job = demo("hedging-knife")
    left = plan(job.model_copy(update={"piece": job.piece.model_copy(update={"worn": "left"})}))
    for planned, side in ((right, -1), (left, 1)):
        seam = planned.stitching.seam("belt-loop")  # type: ignore[union-attr]
        assert np.sign(seam.points[:, 0]).tolist() == [side] * len(seam.points)
        assert np.sign(planned.draft.piece("sheath").punches[0].centre[0]) == side  # type: ignore[union-attr]


@pytest.mark.parametrize("name", ["laying-knife", "spar-knife"])
def test_stages_hand_out_what_cannot_be_written(name: str) -> None:
    planned = plan(demo(name))
    assert planned.draft is not None
    assert planned.stitching is not None
    arrays = [p.outline for p in planned.draft.pieces] + [s.points for s in planned.stitching.seams]
    arrays += [s.stack_mm for s in planned.stitching.seams] + [m.line for m in planned.measured.marks]
    arrays += [c.move_mm for s in planned.threading.seams for c in s.cuts]  # type: ignore[union-attr]
    for array in arrays:
        with pytest.raises(ValueError, match="read-only"):
            array[0] = 0
