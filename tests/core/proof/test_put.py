"""Whether pieces can be put together as they are marked: every fold, count, side and hole of the demo jobs is changed in turn,
and what goes unseen is named here, with why.
"""

from collections.abc import Iterator
from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from tests.jobs import demo
from vow_line.core.curve import frozen
from vow_line.core.draft.pieces import Piece
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.resources.demo import demo_jobs

JOBS = sorted(demo_jobs())
FREE_FOLDS = {
    ("file-roll", "back"),  # its flap folds over where the maker likes
    ("gaiter", "wrap"),  # so does a top that is folded over: what it comes to lie on is as wide there (its own check)
}
FREE_HOLES = {
    ("file-roll", "tie-hole"), ("file-roll", "rivet-hole"),  # a tie is held where it is held
    ("hedging-knife", "drain"),  # water finds it
    ("gang-cuffs", "left-6"), ("gang-cuffs", "right-6"),  # the last of a row, drawn along its edge's end by its own neighbour
}  # fmt: skip
UNSEEN_SIDES = {
    "welt", "filler", "foam", "stiffener", "cord", "lining-front", "lining-back",  # lie between, or inside
    "core-front", "core-back",  # wood
    "strap", "strap-1", "strap-2", "strip", "tie", "tab", "billet", "keeper", "cover", "wrap", "tongue", "cap", "stop-ring",
    "leaf", "lead-tab",  # joined to nothing beside them: riveted, or upon the face of something, which has two
}  # fmt: skip


@cache
def _plan(name: str) -> Plan:
    return plan(demo(name))


def _found(planned: Plan, piece: Piece) -> set[tuple[str, str]]:
    """What is found with a piece changed that was not found before."""
    assert planned.draft is not None
    drafted = planned.draft.assembly
    after = replace(drafted, pieces=tuple(piece if p.id == piece.id else p for p in drafted.pieces))
    before, found = (
        {(f.code, f.at) for f in prove(a, planned.stitching.seams, planned.body).findings if f.level == "hold"}
        for a in (drafted, after)
    )
    return found - before


def _pieces() -> Iterator[tuple[str, Plan, Piece]]:
    for name in JOBS:
        planned = _plan(name)
        assert planned.draft is not None
        for piece in planned.draft.pieces:
            yield name, planned, piece


@pytest.mark.parametrize("by", [-3.0, 3.0])
def test_a_fold_three_millimetres_off_is_found(by: float) -> None:
    for name, planned, piece in _pieces():
        for k, fold in enumerate(piece.folds):
            way = (fold[-1] - fold[0]) / np.hypot(*(fold[-1] - fold[0]))
            moved = frozen(fold + by * np.array([-way[1], way[0]]))
            found = _found(planned, replace(piece, folds=(*piece.folds[:k], moved, *piece.folds[k + 1 :])))
            assert bool(found) is ((name, piece.id) not in FREE_FOLDS), (name, piece.id, k)


@pytest.mark.parametrize("more", [1, -1])
def test_a_piece_too_many_or_too_few_is_found(more: int) -> None:
    """Of what is made of one piece alone, how many are made says how many of it."""
    for name, planned, piece in _pieces():
        assert planned.draft is not None
        if piece.count + more > 0 and (len(planned.draft.pieces) > 1 or piece.in_pairs):
            codes = {code for code, _ in _found(planned, replace(piece, count=piece.count + more))}
            assert "pieces-miscounted" in codes, (name, piece.id)


def test_a_piece_the_other_side_up_is_found() -> None:
    """Where it is sewn edge to edge with another, or a loop upon its outside."""
    seen = 0
    for name, planned, piece in _pieces():
        assert planned.draft is not None
        other = "flesh" if piece.side_up == "grain" else "grain"
        found = bool(_found(planned, replace(piece, side_up=other)))
        alone = all(len({x.piece for x in j.layers if not x.between}) < 2 or not j.sewing for j in planned.draft.assembly.joins
                    if any(x.piece == piece.id for x in j.layers))  # fmt: skip
        upon = name == "waistcoat"  # its panels lap: sewn upon each other's faces
        assert found is not (alone or upon or piece.id in UNSEEN_SIDES), (name, piece.id)
        seen += found
    assert seen > 25


def test_what_is_said_to_be_mirrored_is_the_mirror_image_of_something() -> None:
    """Not the other way: a panel of somebody's own may be the mirror image of another, and need not be told so; what is cut is
    what is drawn, whatever it is called.
    """
    seen = 0
    for name, planned, piece in _pieces():
        found = {code for code, _ in _found(planned, replace(piece, mirrored=not piece.mirrored))}
        assert "mirrored-of-nothing" not in found or not piece.mirrored
        seen += "mirrored-of-nothing" in found
        if planned.draft is not None and len(planned.draft.pieces) == 1 and not piece.mirrored:
            assert found == {"mirrored-of-nothing"}, name
    assert seen > 30


def test_the_holes_of_fasteners_are_found_when_they_are_moved() -> None:
    for name, planned, piece in _pieces():
        for k, punch in enumerate(piece.punches):
            if (name, punch.id) in FREE_HOLES:
                continue
            for by in ((3.0, 0.0), (-3.0, 0.0), (0.0, 3.0), (0.0, -3.0)):
                moved = replace(punch, centre=(punch.centre[0] + by[0], punch.centre[1] + by[1]))
                found = _found(planned, replace(piece, punches=(*piece.punches[:k], moved, *piece.punches[k + 1 :])))
                assert found, (name, piece.id, punch.id, by)
