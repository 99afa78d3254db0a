"""A new pattern laid over pieces already cut, against rectangles reckoned by hand."""

from dataclasses import replace
from datetime import datetime
from types import SimpleNamespace
from typing import cast

import numpy as np
import pytest

from tests.jobs import plain_job, words
from vow_line.core.draft import Draft, Piece
from vow_line.core.job import tick
from vow_line.core.plan import plan
from vow_line.core.work.recut import SAME_MM, Verdict, recut, recut_findings

NOON = datetime(2027, 1, 5, 12)
DRAFT = cast("Draft", plan(plain_job()).draft)
SAYS = ("still-good", "trim", "cut-again", "other-leather")
WORK = plain_job().work
FOR = {p.id: tick(plain_job(), step=f"cut/{p.id}", at=NOON).work for p in DRAFT.pieces}


def _with(right_mm: float, top_mm: float = 50.0, left_mm: float = 0.0) -> Draft:
    """The draft with its sheath a rectangle."""
    ring = np.array([(left_mm, 0.0), (right_mm, 0.0), (right_mm, top_mm), (left_mm, top_mm)])
    return _of(*(replace(p, outline=ring) if p.id == "sheath" else p for p in DRAFT.pieces))


def _of(*pieces: Piece) -> Draft:
    """What of a draft is compared: its pieces."""
    return cast("Draft", SimpleNamespace(pieces=pieces))


@pytest.mark.parametrize(
    ("old", "new", "says", "by_mm"),
    [
        (_with(100), _with(100), "still-good", 0.0),
        (_with(100), _with(100 + 0.9 * SAME_MM), "still-good", 0.9 * SAME_MM),
        (_with(100), _with(100 - 0.9 * SAME_MM), "still-good", 0.9 * SAME_MM),
        (_with(100), _with(100 - 1.1 * SAME_MM), "trim", 1.1 * SAME_MM),
        (_with(100), _with(93, 48), "trim", np.hypot(7, 2)),
        (_with(100), _with(103), "cut-again", 3.0),
        (_with(100), _with(60, 54), "cut-again", 4.0),
        (_with(100), _with(103, left_mm=3), "cut-again", 3.0),
    ],
)
def test_leather_can_be_made_smaller_and_not_larger(old: Draft, new: Draft, says: str, by_mm: float) -> None:
    (verdict,) = recut(old, new, FOR["sheath"])
    assert (verdict.piece, verdict.says) == ("sheath", says)
    assert verdict.by_mm == pytest.approx(by_mm, abs=1e-6)


def test_only_what_was_cut_gets_a_verdict_and_a_new_piece_is_cut() -> None:
    assert recut(DRAFT, DRAFT, WORK) == ()
    assert [v.piece for v in recut(DRAFT, DRAFT, FOR["welt"])] == ["welt"]
    both = tick(tick(plain_job(), step="cut/sheath", at=NOON), step="cut/welt", at=NOON).work
    assert [v.piece for v in recut(DRAFT, DRAFT, both)] == ["sheath", "welt"]
    first, *others = DRAFT.pieces
    thinner = replace(first, stock=replace(first.stock, thickness_mm=first.thickness_mm - 0.8))
    for before, after, by_mm in ((_of(first), _of(thinner), 0.8), (_of(thinner), _of(first), 0.8),
                                 (_of(*others), DRAFT, first.thickness_mm)):  # fmt: skip
        (verdict,) = recut(before, after, FOR[first.id])
        assert verdict == Verdict(first.id, first.title, "other-leather", pytest.approx(by_mm))


def test_a_verdict_stands_at_cut_and_only_leather_too_small_holds() -> None:
    title = DRAFT.pieces[0].title
    told = [Verdict("sheath", title, says, 2.5) for says in SAYS]  # type: ignore[arg-type]
    found = recut_findings(tuple(told))
    assert [(f.level, f.code, f.station, f.at) for f in found] == [
        ("note", "recut-still-good", "cut", "cut/sheath"),
        ("note", "recut-trim", "cut", "cut/sheath"),
        ("hold", "recut-cut-again", "cut", "cut/sheath"),
        ("hold", "recut-other-leather", "cut", "cut/sheath"),
    ]
    assert "2.5 mm at most" in words(found[1].says)
    assert "2.5 mm too small" in words(found[2].says)
    assert "thickness planned now, by 2.5 mm" in words(found[3].says)
