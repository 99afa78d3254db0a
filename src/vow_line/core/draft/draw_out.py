"""The draw-out: the body drawn along its axis through the pocket, and where it is tight.

At each station x of the pocket every section of the body that lies deeper must pass. What a section *needs* there is the
flat half width of a taut wrap that just touches it; what the pocket *gives* is its flat half width up to the welt.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..curve import Values
from ..texts import Said, said


@dataclass(frozen=True, slots=True, eq=False)
class DrawOut:
    """Least clearance of the whole draw-out and where it is.

    `x_mm (n,)` stations of the pocket, `gap_mm (n,)` the least clearance there over the whole path; `least_mm` the
    least of all, `at_mm` its station, `drawn_mm` how far the body is then drawn out.
    """

    x_mm: Values
    gap_mm: Values
    least_mm: float
    at_mm: float
    drawn_mm: float

    def short_of(self, wanted_mm: float) -> tuple[float, float, float] | None:
        """From, to and depth in mm of the relief that gives `wanted_mm` everywhere; None when it is there already."""
        tight = np.flatnonzero(self.gap_mm < wanted_mm - 1e-9)
        if not len(tight):
            return None
        return float(self.x_mm[tight[0]]), float(self.x_mm[tight[-1]]), float(wanted_mm - self.gap_mm.min())


def draw_out(x_mm: Values, needs_mm: Values, needs_thin_mm: Values, gives_mm: Values, thin: Values) -> DrawOut:
    """Draw a body straight along its axis; station i of the pocket is passed by every section j >= i.

    `needs_mm (n,)` is what each section needs with the welt at its full thickness, `needs_thin_mm` with the welt skived
    to nothing, `gives_mm` what the pocket gives, `thin (n,)` in 0..1 how far the welt is skived at each station of the
    pocket. Between the two needs is taken linear in the welt's thickness, which enters the wrap to second order.
    """
    full, thinned = _deepest(needs_mm), _deepest(needs_thin_mm)
    need = full[0] + (thinned[0] - full[0]) * thin
    gap = gives_mm - need
    i = int(np.argmin(gap))
    j = full[1][i] if thin[i] < 0.5 else thinned[1][i]
    return DrawOut(x_mm, gap, float(gap[i]), float(x_mm[i]), float(x_mm[j] - x_mm[i]))


def _deepest(needs_mm: Values) -> tuple[Values, np.typing.NDArray[np.intp]]:
    """For each station the greatest need of it and all deeper ones, and at which station that need arises."""
    backwards = needs_mm[::-1]
    greatest = np.maximum.accumulate(backwards)
    where = np.maximum.accumulate(np.where(backwards >= greatest, np.arange(len(needs_mm)), 0))
    return greatest[::-1], (len(needs_mm) - 1 - where)[::-1]


Grade = Literal["loose", "easy", "firm", "very firm", "too tight"]
GRADES: dict[Grade, Said] = {
    "loose": said("loose"), "easy": said("easy"), "firm": said("firm"), "very firm": said("very firm"),
    "too tight": said("too tight"),
}  # fmt: skip


def squeeze_grade(ease_mm: float, passing_mm: float) -> Grade:
    """How a mouth with `ease_mm` more girth than the `passing_mm` that must pass will hold (common practice):
    over 2 mm loose, 0 to 2 easy, down to -2 % firm, beyond -3 % it will not go.
    """
    if ease_mm > 2:
        return "loose"
    if ease_mm >= 0:
        return "easy"
    share = ease_mm / passing_mm
    if share >= -0.02:
        return "firm"
    return "very firm" if share >= -0.03 else "too tight"
