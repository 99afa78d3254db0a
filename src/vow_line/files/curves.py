"""What a drawing holds before anything is chosen in it: its curves, and whether it says how large they are."""

from dataclasses import dataclass

from ..core.curve import Line

FLAT_MM = 0.05  # how far a curve may be from the straight pieces it is read as


@dataclass(frozen=True, slots=True, eq=False)
class Curves:
    """The curves of a drawing `(n, 2)`, y down, in mm when it says itself how large it is (`scaled`) or that was told, else in
    its own units; the page `(wide, high)` they lie on, from (0, 0), where the drawing has one.
    """

    lines: list[Line]
    scaled: bool
    page: tuple[float, float] | None = None
