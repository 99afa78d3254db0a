"""The way a thing goes into its case: straight, or turning about a point as a bowed blade does.

Places on the wood are flat coordinates (u, v), v growing from `mouth` to the nose; *unrolled* they are how far to the right
of the way and how far along it, from `mouth` as well.
"""

from dataclasses import dataclass

import numpy as np

from ....curve import Line, Values, frozen
from ....measure import MouldedBody
from ...joins import Swing

LEAST_RADII = 2.0  # a way never bends about a point nearer to it than so many times what goes along it is wide


@dataclass(frozen=True, slots=True, eq=False)
class Arc:
    """A way of one curvature, in 1/mm, growing to the right: from where the body's `y`, `x` are (0, `mouth`) on the wood, its
    heading there `tilt_rad` from the body's axis. No curvature: straight.
    """

    y: float
    mouth: float
    tilt_rad: float = 0.0
    curvature: float = 0.0

    @property
    def turn(self) -> Line:
        """What a body's (y, x) are turned by to lie on the wood."""
        c, s = np.cos(self.tilt_rad), np.sin(self.tilt_rad)
        return frozen([[c, -s], [s, c]])

    def laid(self, points: Line) -> Line:
        """Places of a body `(n, 2)`, across and along it, on the wood."""
        return (points - [self.y, self.mouth]) @ self.turn.T + [0.0, self.mouth]

    def of_body(self, points: Line) -> Line:
        """What places on the wood `(n, 2)` are to the body, across and along it: `laid` undone."""
        return (points - [0.0, self.mouth]) @ self.turn + [self.y, self.mouth]

    def unrolled(self, points: Line) -> Line:
        """Places on the wood `(n, 2)` beside and along the way."""
        k = self.curvature
        if k == 0:
            return points
        before, along = 1 - k * points[:, 0], k * (points[:, 1] - self.mouth)
        return np.column_stack([(1 - np.hypot(before, along)) / k, np.arctan2(along, before) / k + self.mouth])

    def rolled(self, points: Line) -> Line:
        """Where on the wood places beside and along the way lie: `unrolled` undone."""
        k = self.curvature
        if k == 0:
            return points
        angle, off = k * (points[:, 1] - self.mouth), 1 - k * points[:, 0]
        return np.column_stack([(1 - off * np.cos(angle)) / k, off * np.sin(angle) / k + self.mouth])

    def across(self, x: Values, wide_mm: float = 1e4) -> Line:
        """Straight lines `(n, 2, 2)` square to the way at `x (n,)` along it."""
        far = min(wide_mm, 0.9 / abs(self.curvature)) if self.curvature else wide_mm
        ends = [self.rolled(np.column_stack([np.full(len(x), side * far), x])) for side in (-1, 1)]
        return np.stack(ends, axis=1)

    def swing(self, mirrored: bool = False) -> Swing | None:
        """How the body lies and turns, for the half whose face is seen, or the one that is its mirror."""
        if self.curvature == 0:
            return None
        side = np.array([-1.0, 1.0]) if mirrored else np.array([1.0, 1.0])
        shift = side * (np.array([0.0, self.mouth]) - self.turn @ [self.y, self.mouth])
        return Swing(frozen(self.turn * side[:, None]), (float(shift[0]), float(shift[1])),
                     (float(side[0]) / self.curvature, self.mouth))  # fmt: skip


def straight(body: MouldedBody, mouth: float) -> Arc:
    """Straight in, about the middle of all that passes the mouth."""
    inside = np.concatenate([[mouth], body.x_mm[body.x_mm > mouth + 1e-6]])
    top, low = (np.interp(inside, body.x_mm, v) for v in (body.top_mm, body.low_mm))
    return Arc(float(top.min() + low.max()) / 2, mouth)


def bowed(body: MouldedBody, mouth: float) -> Arc:
    """Along the parabola nearest to the middle of all that goes in, or rather its circle at the middle of the way."""
    inside = body.x_mm >= mouth
    x, middle = body.x_mm[inside] - mouth, (body.top_mm + body.low_mm)[inside] / 2
    if len(x) < 3:
        return straight(body, mouth)
    a, b, c = np.polynomial.polynomial.polyfit(x, middle, 2)
    half = float(x[-1]) / 2
    curvature = 2 * c / (1 + (b + 2 * c * half) ** 2) ** 1.5
    most = 1 / (LEAST_RADII * float((body.low_mm - body.top_mm)[inside].max() + 1.0))
    curvature = float(np.clip(curvature, -most, most))
    if abs(curvature) * half**2 / 2 < 0.05:  # no bow to speak of
        return straight(body, mouth)
    return Arc(float(a), mouth, float(np.arctan(b)), curvature)
