"""What a board shows."""

from collections.abc import Callable
from dataclasses import dataclass

from ...core.curve import Line, frozen
from ...core.drawing import Callout, Handle, Label, Mark
from ...core.texts import NOTHING, Said


@dataclass(frozen=True, eq=False)
class Inset:
    """A second small drawing in a corner, with a title above and words below; `draw` gives its marks when it is shown, and the
    words on it. It is larger if it is `labelled`.
    """

    title: Said
    draw: Callable[[], tuple[tuple[Mark, ...], tuple[Label, ...]]]
    says: Said
    labelled: bool = False


@dataclass(frozen=True, slots=True)
class Turning:
    """A part of the drawing that a hand turns by dragging it across: its middle, half its width and half its height."""

    at: tuple[float, float]
    half_mm: float
    half_high_mm: float

    @property
    def ends(self) -> Line:
        """How far it ever reaches, `(2, 2)`."""
        (x, y), r = self.at, self.half_mm
        return frozen([[x - r, y], [x + r, y]])

    def holds(self, x: float, y: float) -> bool:
        """Whether a point is on it."""
        return abs(x - self.at[0]) <= self.half_mm and abs(y - self.at[1]) <= self.half_high_mm


@dataclass(frozen=True, slots=True, eq=False)
class Worn:
    """The piece drawn as it is worn, what is said of that, and where a hand turns it; and on the flat pieces, how they strain
    then.
    """

    marks: tuple[Mark, ...]
    label: Label
    turning: Turning
    strains: tuple[Mark, ...]


@dataclass(frozen=True, eq=False)
class Scene:
    """Marks, callouts and labels in mm. `waits` is shown when there is nothing to draw yet.

    The choices among the callouts are words of the `sentences` above the drawing, where those have slots for them.
    The marks named in `passing` move through the drawing and do not change what is fitted to the board; `reach (n, 2)` does,
    so that what moves there stays in sight. What is `worn`, drawn among the marks, is turned by dragging; its strains are
    among them too.
    """

    marks: tuple[Mark, ...] = ()
    callouts: tuple[Callout, ...] = ()
    labels: tuple[Label, ...] = ()
    inset: Inset | None = None
    waits: Said = NOTHING
    ruler: bool = True
    caution: Said = NOTHING
    passing: frozenset[str] = frozenset()
    handles: tuple[Handle, ...] = ()
    sentences: tuple[Said, ...] = ()
    tied: bool = False
    reach: Line | None = None
    worn: Worn | None = None

    @property
    def turns(self) -> Turning | None:
        """What is turned by dragging."""
        return self.worn.turning if self.worn else None

    @property
    def measured(self) -> bool:
        """Whether its values are dimensions of the drawing, or `tied` to their places on it as those are."""
        return self.tied or any(c.to is not None for c in self.callouts)
