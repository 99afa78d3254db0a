"""A new plan laid over what is made already: rectangles reckoned by hand, and whole jobs, vowed, broken and vowed again."""

import zlib
from dataclasses import replace
from datetime import datetime, timedelta
from functools import cache
from types import SimpleNamespace
from typing import Any, cast

import cv2
import numpy as np
import pytest
from pydantic import BaseModel
from scipy.spatial.distance import cdist

from tests.jobs import demo, plain_job, words
from vow_line.core.draft import Piece
from vow_line.core.draft.pieces import Craft, Punch, Skive, leather
from vow_line.core.errors import RefusedChange
from vow_line.core.finding import Finding
from vow_line.core.job import Job, change, mend, value_at, vow_when_cut
from vow_line.core.plan import plan
from vow_line.core.steps import break_vow, sew_to, tick, vow
from vow_line.core.stitch import Stitching
from vow_line.core.work.choices import WorkChoices
from vow_line.core.work.recut import HOLE_SAME_MM, SAME_MM, Planned, Verdict, recut
from vow_line.resources.demo import demo_jobs

NOON = datetime(2027, 1, 5, 12)
HOUR = timedelta(hours=1)


@cache
def _sheath() -> Piece:
    draft = plan(plain_job()).draft
    assert draft is not None
    return draft.piece("sheath")


def _rectangle(right_mm: float, top_mm: float = 50.0, left_mm: float = 0.0, **more: Any) -> Stitching:
    ring = np.array([(left_mm, 0.0), (right_mm, 0.0), (right_mm, top_mm), (left_mm, top_mm)])
    return _with(outline=ring, skives=(), **more)


def _with(holes: list[list[float]] | None = None, seam: dict[str, Any] | None = None, **more: Any) -> Stitching:
    """What of a stitching is compared: pieces, and the holes of one seam in them."""
    seams: tuple[Any, ...] = ()
    if holes is not None:
        points = np.array(holes)
        on = SimpleNamespace(placed=[SimpleNamespace(piece="sheath")])
        there = {"tooth": "diamond", "hole_mm": 1.2, "on": lambda _: points, "there": lambda _: slice(None)}
        seams = (SimpleNamespace(id="seam", title="seam", line=on, **{**there, **(seam or {})}),)
    piece: Piece = replace(_sheath(), **{"folds": (), **more})
    draft = SimpleNamespace(pieces=(piece,), assembly=SimpleNamespace(joins=(), seats=(), turns=()))
    return cast("Stitching", SimpleNamespace(draft=draft, seams=seams))


def _done(*steps: str) -> WorkChoices:
    job = plain_job()
    for step in ("cut/sheath", *steps):
        job = tick(job, step=step, at=NOON)
    return job.work


def _verdict(old: Stitching, new: Stitching, *done: str, tannage: str = "veg") -> Verdict:
    (verdict,) = recut(Planned(old, "veg"), Planned(new, tannage), ["sheath"], _done(*done))
    return verdict


@pytest.mark.parametrize(
    ("new", "says", "by_mm"),
    [
        ({}, "still-good", 0.0),
        ({"right_mm": 100 + 0.9 * SAME_MM}, "still-good", 0.9 * SAME_MM),
        ({"right_mm": 100 - 0.9 * SAME_MM}, "still-good", 0.9 * SAME_MM),
        ({"right_mm": 100 - 1.1 * SAME_MM}, "trim", 1.1 * SAME_MM),
        ({"right_mm": 93, "top_mm": 48}, "trim", np.hypot(7, 2)),
        ({"right_mm": 103}, "cut-again", 3.0),
        ({"right_mm": 60, "top_mm": 54}, "cut-again", 4.0),
        ({"right_mm": 103, "left_mm": 3}, "cut-again", 3.0),
        ({"side_up": "flesh"}, "cut-again", 0.0),
        ({"right_mm": 90, "stock": leather(2.4)}, "cut-again", 0.8),
    ],
)
def test_leather_can_be_made_smaller_and_not_larger(new: dict[str, Any], says: str, by_mm: float) -> None:
    verdict = _verdict(_rectangle(100), _rectangle(**{"right_mm": 100, **new}))
    assert (verdict.piece, verdict.says) == ("sheath", says)
    assert verdict.by_mm == pytest.approx(by_mm, abs=1e-6)
    assert words(verdict.why)


def test_a_hole_that_is_made_stays() -> None:
    row = [[5.0, 5.0 * k] for k in range(1, 9)]
    moved = [[x, y + (0.5 if y == 20 else 0.0)] for x, y in row]
    near = [[x, y + 0.9 * HOLE_SAME_MM] for x, y in row]
    old = _rectangle(100, holes=row)
    for new, says in ((row, "still-good"), (near, "still-good"), ([*row, [9, 9]], "still-good"), (moved, "holes-differ"),
                      (row[:-2], "holes-differ"), (None, "holes-differ")):  # fmt: skip
        assert _verdict(old, _rectangle(100, holes=new), "holes/seam").says == says, new
        assert _verdict(old, _rectangle(100, holes=new)).says == "still-good", "they are not made yet"
    found = _verdict(old, _rectangle(100, holes=moved), "holes/seam")
    assert found.by_mm == pytest.approx(0.5)
    assert words(found.why) == "1 hole of the seam is made where none is wanted now"
    assert words(_verdict(old, _rectangle(100, holes=row[:-2]), "holes/seam").why).startswith(
        "2 holes of the seam are made"
    )
    assert _verdict(old, _rectangle(101, holes=moved), "holes/seam").says == "cut-again", "too small is worse"
    assert _verdict(old, _rectangle(99, holes=moved), "holes/seam").says == "holes-differ", "no trimming mends that"


def test_a_punch_a_slot_and_a_skive_stay_too() -> None:
    punch = Punch("rivet", "rivet", (20.0, 20.0), 4.0)  # type: ignore[arg-type]
    slot = np.array([[10.0, 10], [30, 10], [30, 12], [10, 12]])
    ring = np.array([[0.0, 0], [20, 0], [20, 50], [0, 50]])
    skive = Skive("end", "end", ring, 3.2, 1.2, (20.0, 0.0), (0.0, 0.0))  # type: ignore[arg-type]
    for done, had, like, other in (
        ("punch/sheath/rivet", {"punches": (punch,)}, {"punches": (replace(punch, diameter_mm=5.0),)},
         {"punches": (replace(punch, centre=(20.5, 20.0)),)}),
        ("slots/sheath", {"slots": (slot,)}, {"slots": (slot * [1, 1] + [0.1, 0],)}, {"slots": (slot + [3, 0],)}),
        ("skive/sheath/end", {"skives": (skive,)}, {"skives": (replace(skive, to_mm=1.0),)},
         {"skives": (replace(skive, to_mm=1.6),)}),
    ):  # fmt: skip
        old = _with(**{"outline": _rectangle(100).draft.pieces[0].outline, "skives": (), **had})
        same, gone = _rectangle(100), _rectangle(100)
        same = _with(**{"outline": same.draft.pieces[0].outline, "skives": (), **like})
        gone = _with(**{"outline": gone.draft.pieces[0].outline, "skives": (), **other})
        assert _verdict(old, same, done).says == "still-good", done
        assert _verdict(old, gone, done).says == "holes-differ", done
        assert _verdict(old, _rectangle(100), done).says == "holes-differ", done
        assert _verdict(old, gone).says == "still-good", f"{done} is not done yet"


def test_a_smaller_punch_cannot_be_had_from_a_larger_hole() -> None:
    punch = Punch("rivet", "rivet", (20.0, 20.0), 4.0)  # type: ignore[arg-type]
    old = _rectangle(100, punches=(punch,))
    new = _rectangle(100, punches=(replace(punch, diameter_mm=3.0),))
    assert _verdict(old, new, "punch/sheath/rivet").says == "holes-differ"


def test_a_notch_between_corners_is_seen_from_either_side() -> None:
    """All corners of the one lie on the other: the middle of its edge does not. By hand, 12 mm deep."""
    whole = _rectangle(100)
    notched = _with(outline=np.array([(0.0, 0), (100, 0), (100, 50), (60, 50), (50, 38), (40, 50), (0, 50)]), skives=())
    assert _verdict(notched, whole).says == "cut-again"
    assert _verdict(notched, whole).by_mm == pytest.approx(12, abs=0.1)
    found = _verdict(whole, notched)
    assert found.says == "trim"
    assert found.by_mm == pytest.approx(12, abs=0.1)


def test_what_else_a_piece_is_cut_by_is_compared() -> None:
    old, punch = _rectangle(100), Punch("a-1", "row", (20.0, 20.0), 4.0, "a")  # type: ignore[arg-type]
    assert _verdict(old, _rectangle(100), tannage="oil").says == "cut-again"
    assert _verdict(old, _rectangle(100, mirrored=True)).says == "cut-again"
    assert _verdict(_rectangle(100, count=2), _rectangle(100, count=2, in_pairs=True)).says == "cut-again"
    more = _verdict(old, _rectangle(100, count=3))
    assert (more.says, more.by_mm) == ("more", 2.0)
    assert _verdict(_rectangle(100, count=3), old).says == "still-good", "one too many spoils nothing"
    row = _rectangle(100, punches=(punch,))
    moved = _rectangle(100, punches=(replace(punch, centre=(23.0, 20.0)),))
    assert _verdict(row, moved, "punch/sheath/a").says == "holes-differ", "a row is ticked off by its own name"
    holes = [[5.0, 5.0 * k] for k in range(1, 9)]
    for seam, says in (
        ({"tooth": "round"}, "holes-differ"), ({"hole_mm": 0.8}, "holes-differ"), ({"hole_mm": 2.0}, "still-good"),
    ):  # fmt: skip
        new = _rectangle(100, holes=holes, seam=seam)
        assert _verdict(_rectangle(100, holes=holes), new, "holes/seam").says == says, seam
    craft = Craft("tool the border", "damp")  # type: ignore[arg-type]
    assert _verdict(_rectangle(100, crafts=(craft,)), old, "craft/sheath/0").says == "holes-differ"
    assert _verdict(_rectangle(100, crafts=(craft,)), old).says == "still-good"


def test_what_was_punched_in_one_piece_stays_when_another_is_cut_again() -> None:
    """The sheath is cut again, and with that all is unticked that was done to both; the loop has its holes all the same."""
    job = _cut_all(vow(plain_job(), at=NOON), NOON + HOUR)
    wider = change(break_vow(job, at=NOON + 2 * HOUR), "piece.margin_mm", 5.0)
    again = mend(wider, _recut(wider)["cut/sheath"].mend)
    assert not again.work.is_done("holes/belt-loop")
    assert again.work.is_made("holes/belt-loop", "belt-loop")
    assert not again.work.is_made("holes/belt-loop", "sheath")
    other = change(again, "stitch.pitch_mm", 5.0)
    assert {v.piece: v.says for v in plan(other).verdicts}["belt-loop"] == "holes-differ"
    back = mend(other, _recut(other)["cut/belt-loop"].mend)
    assert "belt-loop" not in {v.piece for v in plan(back).verdicts}


@pytest.mark.parametrize("name", [n for n in demo_jobs() if n not in ("gang-cuffs",)])
def test_every_verdict_is_what_the_leather_says(name: str) -> None:
    """Each field of what was vowed changed in turn, a piece of it cut and its holes made by chance: still good is only what has
    its outline, by areas, its holes, its leather, its sides and its number; judged here by rasters and nearest holes.
    """
    rng = np.random.default_rng(zlib.crc32(name.encode()))
    job = demo(name).model_copy(update={"vows": ()})
    job = job.model_copy(update={"work": job.work.model_copy(update={"done": (), "sewn": (), "in_hand": ()})})
    job = vow(job, at=NOON)
    before, holed = plan(job), bool(rng.integers(2))
    job = _cut_all(job, NOON + HOUR, holes=holed)
    broken = break_vow(job, at=NOON + 2 * HOUR)
    fields = [p for p in _numbers(broken) if p.split(".")[0] in ("piece", "leather", "stitch", "makes")]
    for path in rng.permutation(fields)[:14]:
        value = value_at(broken, path)
        try:
            after = change(broken, path, value + 1 if isinstance(value, int) else round(value * 1.15 + 0.4, 2))
        except RefusedChange:
            continue
        now = plan(after)
        if now.whole is None:
            continue
        for verdict in now.verdicts:
            was, new = before.whole.piece(verdict.piece), now.whole.piece(verdict.piece)
            off = _raster_off(was.outline, new.outline)
            if verdict.says in ("still-good", "more"):
                assert off < 0.5, (path, verdict.piece, off)
                assert was.thickness_mm == new.thickness_mm
                assert (was.side_up, was.mirrored) == (new.side_up, new.mirrored)
                assert new.count <= was.count or verdict.says == "more"
                if holed:
                    made, wanted = (_all_holes(p, verdict.piece) for p in (before, now))
                    assert cdist(made, wanted).min(axis=1).max(initial=0.0) < 0.35 if len(made) else True, (
                        path,
                        verdict.piece,
                    )
            elif verdict.says in ("cut-again", "trim") and verdict.by_mm > 1.0 and was.thickness_mm == new.thickness_mm:
                assert off > 0.3, (path, verdict.piece, off)


def _numbers(of: Any, path: str = "") -> list[str]:
    """The places of all numbers in a record."""
    if isinstance(of, BaseModel):
        return [p for name in type(of).model_fields for p in _numbers(getattr(of, name), f"{path}.{name}".lstrip("."))]
    if isinstance(of, tuple):
        return [p for k, x in enumerate(of) for p in _numbers(x, f"{path}.{k}")]
    return [path] if isinstance(of, (int, float)) and not isinstance(of, bool) else []


def _raster_off(one: np.ndarray, other: np.ndarray) -> float:
    """How deep two outlines differ at most, by pixels of a quarter mm: half the widest part that only one of them covers."""
    low = np.minimum(one.min(axis=0), other.min(axis=0)) - 2
    size = np.ceil((np.maximum(one.max(axis=0), other.max(axis=0)) + 2 - low) * 4).astype(int)
    masks = []
    for ring in (one, other):
        mask = np.zeros(size[::-1], np.uint8)
        cv2.fillPoly(mask, [np.rint((ring - low) * 4).astype(np.int32)], 1)
        masks.append(mask)
    only = (masks[0] != masks[1]).astype(np.uint8)
    return float(cv2.distanceTransform(only, cv2.DIST_L2, 5).max()) / 4


def _all_holes(of: Any, piece: str) -> np.ndarray:
    points = [s.on(k)[s.there(k)] for s in of.sewing.seams for k, p in enumerate(s.line.placed) if p.piece == piece]
    return np.vstack([np.zeros((0, 2)), *points])


def _recut(job: Job) -> dict[str, Finding]:
    return {f.at: f for f in plan(job).at("cut")}


def _cut_all(job: Job, at: datetime, *, holes: bool = True) -> Job:
    for step in plan(job).work.steps:  # type: ignore[union-attr]
        if step.station == "cut" or (holes and step.id.startswith("holes/")):
            job = tick(job, step=step.id, at=at)
    return job


def test_a_piece_that_is_cut_again_is_cut_from_leather_once_more_and_stays_so() -> None:
    job = _cut_all(vow(plain_job(), at=NOON), NOON + HOUR)
    job = tick(sew_to(job, seam="belt-loop", passes=40), step="sew/belt-loop", at=NOON + HOUR)
    wider = change(break_vow(job, at=NOON + 2 * HOUR), "piece.margin_mm", 5.0)
    found = _recut(wider)["cut/sheath"]
    assert (found.level, found.code) == ("hold", "recut-cut-again")
    assert "mm too small: " not in words(found.says)
    assert "too small. Cut it again." in words(found.says)
    assert found.mend is not None
    again = mend(wider, found.mend)
    assert "cut/sheath" not in _recut(again)
    assert not again.work.is_done("cut/sheath")
    assert not again.work.is_done("holes/main-seam")
    assert not again.work.is_done("sew/belt-loop"), "what was sewn to it is unsewn"
    assert again.work.passes("belt-loop") == 0
    assert again.work.is_done("cut/belt-loop"), "what was cut by itself is still cut"
    before, after = plan(wider).layout, plan(again).layout
    assert before is not None
    assert after is not None
    was = next(p for p in plan(job).draft.pieces if p.id == "sheath")  # type: ignore[union-attr]
    assert after.used_mm2 - before.used_mm2 == pytest.approx(was.area_mm2), "its leather is asked for again"
    assert sum(x.piece.startswith("spoiled/") for x in after.laid) == 1
    new = vow(again, at=NOON + 3 * HOUR)
    assert "cut/sheath" in {s.id for s in plan(new).work.steps if not new.work.is_done(s.id)}  # type: ignore[union-attr]
    assert plan(new).layout.used_mm2 == after.used_mm2  # type: ignore[union-attr]
    assert not [f for f in plan(_cut_all(new, NOON + 4 * HOUR)).at("cut") if f.level == "hold"], "cut by the new plan"


def test_a_verdict_stands_until_it_is_seen_to() -> None:
    """Vowed again with what was cut before: leather is what it is, whatever is vowed."""
    job = _cut_all(vow(plain_job(margin_mm=5.0), at=NOON), NOON + HOUR, holes=False)
    job = change(break_vow(job, at=NOON + 2 * HOUR), "piece.margin_mm", 3.5)
    assert _recut(job)["cut/welt"].code == "recut-trim"
    assert _recut(job)["cut/welt"].mend is None, "it is not vowed yet"
    new = vow(job, at=NOON + 3 * HOUR)
    found = _recut(new)["cut/welt"]
    assert found.code == "recut-trim"
    assert found.mend is not None
    trimmed = mend(new, found.mend)
    assert "cut/welt" not in _recut(trimmed)
    assert vow_when_cut(trimmed, "welt") is None
    assert trimmed.work.is_done("cut/welt")


def test_each_piece_is_held_against_the_plan_it_was_cut_by() -> None:
    job = tick(vow(plain_job(margin_mm=5.0), at=NOON), step="cut/welt", at=NOON + HOUR)
    job = vow(change(break_vow(job, at=NOON + 2 * HOUR), "piece.margin_mm", 4.0), at=NOON + 3 * HOUR)
    job = tick(job, step="cut/sheath", at=NOON + 4 * HOUR)
    job = change(break_vow(job, at=NOON + 5 * HOUR), "piece.margin_mm", 5.0)
    found = {v.piece: v.says for v in plan(job).verdicts}
    assert found == {"welt": "still-good", "sheath": "cut-again"}


def test_a_vow_keeps_its_thread() -> None:
    job = vow(change(plain_job(), "thread.back_stitches", 4), at=NOON)
    assert job.vowed is not None
    assert job.vowed.thread == job.thread


def test_what_is_spoiled_is_shown_gone_from_the_leather() -> None:
    from vow_line.core.leather.picture import on_leather

    job = change(demo("hedging-knife"), "work.spoiled", ({"piece": "welt", "outline": ((0, 0), (60, 0), (60, 30))},))
    layout = plan(job).layout
    assert layout is not None
    marks, labels = on_leather(layout, job.leather, frozenset({"welt"}))
    assert [m.id for m in marks if m.meaning == "void" and m.id != "flaw"] == ["spoiled/welt/1"]
    assert "welt, spoiled" in {words(label.says) for label in labels}
