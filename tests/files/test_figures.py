"""No figure of many jobs moves without being seen to: see tests/figures.py for what that does and does not say."""

import re

import pytest

from tests.figures import KEPT, kept

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
    moved = [f"was {k}\nis  {n}" for n, k in zip(now, then, strict=False) if not _same(n, k)]
    assert not moved, "\n".join(
        [*moved[:8], "If this is meant: ./run figures, and say why in docs/figures-changed.md."]
    )
    assert len(now) == len(then)


def test_nothing_is_kept_that_is_not_looked_at() -> None:
    assert {p.stem for p in KEPT.glob("*.txt")} == set(ALL)
