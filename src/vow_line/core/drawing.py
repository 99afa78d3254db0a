"""A drawing as records in mm: what the board paints, the printer prints and the files write is this one list.

Coordinates run right and down, as on the bench. `meaning` says what a line is for: see `meanings`.
"""

import re
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from .curve import Line, frozen
from .meanings import Meaning
from .quantity import Kind
from .texts import NOTHING, Said


@dataclass(frozen=True, slots=True, eq=False)
class Mark:
    """One thing drawn: an `(n, 2)` line, closed or not.

    With `pairs` every two points are a stroke of their own, as stitches are; with `size_mm` there is a circle of that
    diameter about each point, as for holes. `rings` are cut out of a closed line. `id` is what a reckoning points at. `on`
    names the piece whose frame it is in, where that is not the first.
    """

    meaning: Meaning
    line: Line
    closed: bool = False
    id: str = ""
    size_mm: float = 0.0
    rings: tuple[Line, ...] = ()
    pairs: bool = False
    on: str = ""

    def moved(self, u: float, v: float) -> "Mark":
        """The same so far on."""
        by = np.array([u, v])
        return Mark(self.meaning, frozen(self.line + by), self.closed, self.id, self.size_mm,
                    tuple(frozen(r + by) for r in self.rings), self.pairs, self.on)  # fmt: skip


@dataclass(frozen=True, slots=True, eq=False)
class Callout:
    """A value shown on the drawing and edited in place: where in the job it lives and where on the drawing it points.

    A value of None is looked up at `path`; an empty one has not been given yet. `side` is where its figure stands: in the
    column to the left or right of the drawing, or above or below the point. `beside` is a lesser value that goes with it.
    With `choices` one is chosen; `meant` are the values they stand for where those are not the words themselves; where a
    sentence of the drawing has a slot of its name the choice is a word of that. A `part` that a piece can do without is not on
    it while its value is nothing; put on, it begins as `usual`.
    `on` names the piece whose frame `at` is in, where that is not the first. A `tape` reads it, no caliper. A length that is
    seen on the drawing goes from `at` `to` there; lengths that follow each other are links of one `chain`, in their order
    from within outwards. One that runs across, or is meant to, stands `upon` the drawing where there is room. What is
    `seldom` changed waits behind a word; a reading that one can do without is `unasked` for.
    """

    path: str
    name: Said
    kind: Kind
    value: Any
    at: tuple[float, float]
    side: Literal["left", "right", "above", "below"] = "left"
    mark: str = ""
    choices: tuple[Said, ...] = ()
    meant: tuple[Any, ...] = ()
    quiet: bool = False
    beside: tuple[str, Said] | None = None
    on: str = ""
    tape: bool = False
    part: Said = NOTHING
    usual: Any = None
    to: tuple[float, float] | None = None
    chain: str = ""
    upon: bool = False
    seldom: bool = False
    unasked: bool = False

    def moved(self, u: float, v: float) -> "Callout":
        """The same so far on; by hand, as `dataclasses.replace` takes twice as long, and an edit moves a hundred."""
        at, to = (self.at[0] + u, self.at[1] + v), None if self.to is None else (self.to[0] + u, self.to[1] + v)
        return Callout(
            self.path, self.name, self.kind, self.value, at, self.side, self.mark, self.choices, self.meant, self.quiet,
            self.beside, self.on, self.tape, self.part, self.usual, to, self.chain, self.upon, self.seldom, self.unasked,
        )  # fmt: skip

    @property
    def slot(self) -> str:
        """The slot of a sentence that it is the word of: the last part of its path."""
        return re.split(r"[./]", self.path)[-1]

    @property
    def absent(self) -> bool:
        """Whether it is of a part that is not there."""
        return bool(self.part) and not self.value

    @property
    def means(self) -> tuple[Any, ...]:
        """The value each choice stands for: where none is given, the words themselves, as they are before translation."""
        return self.meant or tuple(c.template for c in self.choices)


@dataclass(frozen=True, slots=True)
class Handle:
    """A point of the drawing that can be dragged: the place in the job that follows it. One that moves `along` the axis alone
    gives its first coordinate times that, others both coordinates.
    """

    path: str
    name: Said
    at: tuple[float, float]
    along: float = 0.0

    def value(self, x: float, y: float) -> float | tuple[float, float]:
        """What stands in the job when it is dragged to (x, y) mm."""
        return round(x * self.along, 1) if self.along else (round(x, 2), round(y, 2))


@dataclass(frozen=True, slots=True, eq=False)
class Label:
    """Words on the drawing at a point in mm, in the frame of the piece they are `on` where that is not the first; `strong` ones
    are read first.
    """

    says: Said
    at: tuple[float, float]
    meaning: Meaning = "mark"
    strong: bool = False
    align: Literal["left", "centre", "right"] = "centre"
    on: str = ""

    def moved(self, u: float, v: float) -> "Label":
        """The same so far on."""
        return Label(self.says, (self.at[0] + u, self.at[1] + v), self.meaning, self.strong, self.align, self.on)
