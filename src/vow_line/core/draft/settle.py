"""Points laid flat settle to the least energy of what their triangles must stretch and shrink, by Newton's method.

The energy is that of Liu, Zhang, Xu, Gotsman, Gortler, Computer Graphics Forum 27 (2008), 1495-1504: by area, the squares of
`s - 1` of both singular values of each triangle's map from round to flat; turning costs nothing. Under a limit come those of
what they fall short of it, weighing more. The curvature of each triangle is kept from falling below 0 (Smith, de Goes, Kim,
ACM Transactions on Graphics 38, 1 (2019), article 3; from memory), a step is halved until the energy falls.
"""

from copy import copy
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curve import Values
from .mesh import Mesh

MOST_ROUNDS = 60
LEAST_STEP = 1e-4
ROUNDED = 1e-15  # of the energy of the triangles by themselves: so much is lost where sums are rounded
STEADY = 0.1  # it bends as it did where the energy fell by less than this share of itself
RIDGE = 1e-9  # of the stiffest point; by itself the piece could be pushed and turned
SMALL = 1e-9
ROW, COLUMN = np.tril_indices(6)  # of 6 by 6, each pair once
LOWER = 6 * ROW + COLUMN
Complex = NDArray[np.complex128]


class Limit(NamedTuple):
    """The least that a singular value may be, and how much more what it falls short of that weighs."""

    least: float
    weighs: float


class Energy:
    """The energy of points of a mesh, and how it changes with the parts `x, y` of each in turn. `rest (k, 3)` are its triangles
    by themselves, which weigh `times (k,)` their areas; the two sides of what is slit are held together by so much.
    """

    def __init__(self, rest: Complex, mesh: Mesh, times: Values | float, held: float) -> None:
        p, q = rest[:, 1] - rest[:, 0], rest[:, 2] - rest[:, 0]
        double = (p.conj() * q).imag
        self.mesh, self.held, self.limit = mesh, held, Limit(0.0, 0.0)
        self.area = np.abs(double) / 2 * times
        # the map from round to flat is A z + B z*, A and B so much of each corner
        ways = -2j * np.where(np.abs(double) < SMALL, SMALL, double)[:, None]
        self.of_a = np.stack([p.conj() - q.conj(), q.conj(), -p.conj()], axis=1) / ways
        self.of_b = np.stack([q - p, -q, p], axis=1) / ways
        self.towards_a, self.towards_b = self.of_a.conj(), self.of_b.conj()
        even = 4 * self.area
        self.always = self._band(_each(self.towards_a, self.towards_b, even, 0 * even, even, even))
        for k in (0, 1):
            one, other = 2 * mesh.held + k, 2 * mesh.after + k
            np.add.at(self.always[:, 0], np.concatenate([one, other]), 2 * held)
            np.add.at(self.always, (one, other - one), -2 * held)

    def limited(self, limit: Limit) -> "Energy":
        """The same under another limit."""
        other = copy(self)
        other.limit = limit
        return other

    def _maps(self, z: Complex) -> tuple[Complex, Complex, Values, Values]:
        corners = z[self.mesh.corners]
        a, b = (np.einsum("ij,ij->i", of, corners) for of in (self.of_a, self.of_b))
        return a, b, np.abs(a), np.abs(b)

    def _band(self, each: Values) -> Values:
        """What each pair of parts of a triangle's corners `(k, 21)` adds up to, as a band below the diagonal: `(2 n, 2 reach +
        2)`, a column after another.
        """
        n, wide = 2 * self.mesh.many, 2 * self.mesh.reach + 2
        return np.asarray(np.bincount(_places(self.mesh)[1], each.ravel(), n * wide), float).reshape(n, wide)

    def stretch(self, z: Complex) -> float:
        """The most that any of it must stretch."""
        _, _, a, b = self._maps(z)
        return float(1 / max((a - b).min(), SMALL) - 1)

    def of(self, z: Complex) -> float:
        """The energy."""
        _, _, a, b = self._maps(z)
        each = 2 * ((a - 1) ** 2 + b**2)  # of the squares of a + b - 1 and a - b - 1
        if self.limit.weighs:
            least, weighs = self.limit
            each += weighs * (np.maximum(least - a - b, 0) ** 2 + np.maximum(least - a + b, 0) ** 2)
        apart = z[self.mesh.held] - z[self.mesh.after]
        return float(self.area @ each) + self.held * float((np.abs(apart) ** 2).sum())

    def slopes(self, z: Complex) -> Values:
        """How steep it is, `(2 n,)`."""
        mesh = self.mesh
        a, b, long, wide = self._maps(z)
        even = 4 * self.area
        pull = (even * (1 - 1 / np.maximum(long, SMALL)) * a)[:, None] * self.towards_a
        pull += (even * b)[:, None] * self.towards_b
        if self.limit.weighs:
            some, u, v, steep, _ = self._short(a, b, long, wide)
            pull[some] += (steep[0] + steep[1])[:, None] * u + (steep[0] - steep[1])[:, None] * v
        slopes = np.asarray(np.bincount(_places(mesh)[0], pull.view(float).ravel(), 2 * len(z)), float)
        apart = 2 * self.held * (z[mesh.held] - z[mesh.after])
        for k, part in enumerate((apart.real, apart.imag)):
            np.add.at(slopes, 2 * mesh.held + k, part)
            np.add.at(slopes, 2 * mesh.after + k, -part)
        return slopes

    def curvature(self, z: Complex) -> Values:
        """How it bends, as LAPACK has a band below the diagonal: `(2 reach + 2, 2 n)`."""
        a, b, long, wide = self._maps(z)
        unit = a / np.maximum(long, SMALL)
        across = (1j * unit[:, None] * self.towards_a).view(float)  # as complex numbers lie in memory
        back = 4 * self.area / np.maximum(long, 1)
        each = -(back[:, None] * across)[:, ROW] * across[:, COLUMN]
        if self.limit.weighs:
            some, u, v, steep, bends = self._short(a, b, long, wide)
            none, turn = np.zeros(len(some)), (steep[0] - steep[1]) / np.maximum(wide[some], SMALL)
            # along A it turns the other way
            each[some] += _each(u, v, bends[0] + bends[1], bends[0] - bends[1], none, np.maximum(turn, 0))
        return (self.always + self._band(each)).T

    def _short(
        self, a: Complex, b: Complex, long: Values, wide: Values
    ) -> tuple[NDArray[np.int64], Complex, Complex, Values, Values]:
        """The triangles that fall short of the limit, by number; how A and B of each change along themselves with its corners;
        and what the limit adds to the slope and to the bend of both singular values, `(2, k)`.
        """
        least, weighs = self.limit
        some = np.flatnonzero(long - wide < least)  # the other is the larger
        short = np.maximum(least - np.stack([long[some] + wide[some], long[some] - wide[some]]), 0)
        u = (a[some] / np.maximum(long[some], SMALL))[:, None] * self.towards_a[some]
        v = (b[some] / np.maximum(wide[some], SMALL))[:, None] * self.towards_b[some]
        more = 2 * weighs * self.area[some]
        return some, u, v, -more * short, more * (short > 0)


def _each(u: Complex, v: Complex, both: Values, differ: Values, turn_a: Values, turn_b: Values) -> Values:
    """The curvature of each triangle by the pairs of parts of its corners `(k, 21)`: along `u` and `v` alike and against each
    other, and across either.
    """
    both, differ = both[:, None], differ[:, None]
    across_u, across_v = 1j * u, 1j * v
    ways = np.stack([u, across_u, v, across_v], axis=1).view(float)
    stiff = np.stack([
        both * u + differ * v, turn_a[:, None] * across_u, differ * u + both * v, turn_b[:, None] * across_v,
    ], axis=1).view(float)  # fmt: skip
    return np.asarray((ways.transpose(0, 2, 1) @ stiff).reshape(-1, 36)[:, LOWER])


@lru_cache(16)
def _places(mesh: Mesh) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The numbers of the parts of each triangle's corners, `(6 k,)`; and where in the band each pair of them is, `(21 k,)`."""
    parts = np.stack([2 * mesh.corners, 2 * mesh.corners + 1], axis=2).reshape(-1, 6)
    one, other = parts[:, ROW], parts[:, COLUMN]
    at = np.minimum(one, other) * (2 * mesh.reach + 2) + np.abs(one - other)
    return parts.ravel(), at.ravel()


def settled(energy: Energy, z: Complex, share: float) -> tuple[Complex, list[float], bool]:
    """The points where the energy falls by less than so great a share of itself, the energies on the way there, and whether it
    came there.
    """
    from scipy.linalg.lapack import dpbtrf, dpbtrs  # where it is first asked for: it takes its time to come

    energies, fell = [energy.of(z)], 1.0
    lost = ROUNDED * float(energy.area.sum())
    for _ in range(MOST_ROUNDS):
        # else it bends as it did, nearly; under a limit that changes with what falls short
        fresh = fell > STEADY or energy.limit.weighs > 0
        if fresh:
            curvature = energy.curvature(z)
            curvature[0] += RIDGE * curvature[0].max()
            taken, wrong = dpbtrf(curvature, lower=1, overwrite_ab=1)
            if wrong:  # slivers: it stays as it is
                break
        way, _ = dpbtrs(taken, -energy.slopes(z), lower=1, overwrite_b=1)
        step, on, now = 1.0, way.view(complex), energies[-1]
        while (there := energy.of(z + step * on)) > now and step > LEAST_STEP:
            step /= 2
        if there <= now:
            z = z + step * on
            energies.append(there)
            if now - there <= max(share * now, lost):
                return z, energies, True
            fell = (now - there) / now if step == 1 else 1.0
        elif fresh:
            break
        else:
            fell = 1.0
    return z, energies, False
