"""No figure of many jobs moves without being seen to: see tests/figures.py for what that does and does not say."""

import re
from collections.abc import Iterator
from difflib import SequenceMatcher

import pytest

from tests.figures import KEPT, LEAST, kept, lacking, plans_of
from vow_line.core.draft.kind import KindOfPiece
from vow_line.core.draft.kinds import KINDS

ALL = dict(kept())
NUMBER = re.compile(r"(?<![\w.])-?\d+(?:\.\d+)?(?:e[+-]?\d+)?(?![\w.])")


def _same(one: str, other: str) -> bool:
    """Alike but for what rounding does on another machine."""
    a, b = NUMBER.findall(one), NUMBER.findall(other)
    return NUMBER.sub("#", one) == NUMBER.sub("#", other) and [float(x) for x in a] == pytest.approx(
        [float(x) for x in b], rel=2e-7, abs=2e-6
    )


@pytest.mark.parametrize("name", ALL)
def test_no_figure_moves_unseen(name: str) -> None:
    now, then = ALL[name](), (KEPT / f"{name}.txt").read_text().splitlines()
    moved = list(_moved(then, now))
    assert not moved, "\n".join(
        [*moved[:16], "If this is meant: ./run figures, and say why in docs/figures-changed.md."]
    )


def _moved(then: list[str], now: list[str]) -> Iterator[str]:
    """What differs, each line beside the one it was: lines that came or went shift no other."""
    if len(now) == len(then):
        pairs = [(t, n) for t, n in zip(then, now, strict=True) if not _same(t, n)]
        yield from (f"was {t}\nis  {n}" for t, n in pairs)
        return
    was, now_is = ([NUMBER.sub("#", line) for line in lines] for lines in (then, now))
    for tag, i, j, k, m in SequenceMatcher(None, was, now_is, autojunk=False).get_opcodes():
        if tag == "equal":
            yield from _moved(then[i:j], now[k:m])
        else:
            yield from (f"was {line}" for line in then[i:j])
            yield from (f"is  {line}" for line in now[k:m])


def test_a_figure_that_came_or_went_shifts_no_other() -> None:
    then = ["hole: 1 2", "run: 10", "edge: 4", "edge: 5"]
    assert list(_moved(then, ["hole: 1 2", "edge: 4", "edge: 6"])) == ["was run: 10", "was edge: 5\nis  edge: 6"]
    assert list(_moved(then, ["hole: 1 2", "run: 10", "sum: 1", "edge: 4", "edge: 5"])) == ["is  sum: 1"]
    assert list(_moved(then, ["hole: 1 2", "run: 10.0000001", "edge: 4", "edge: 5"])) == []
    assert list(_moved(then, ["hole: 1 2", "run: 10.001", "edge: 4", "edge: 5"])) == ["was run: 10\nis  run: 10.001"]


@pytest.mark.parametrize("kind", KINDS)
def test_figures_are_kept_of_every_kind_and_of_all_that_it_offers(kind: type[KindOfPiece]) -> None:
    plans = plans_of(kind)
    assert len(plans) >= LEAST
    assert not lacking(plans), "./run figures keeps a job that has it"


def test_nothing_is_kept_that_is_not_looked_at() -> None:
    assert {p.stem for p in KEPT.glob("*.txt")} == set(ALL)
