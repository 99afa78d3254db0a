"""A surface laid flat so that the leather need stretch by no more than it gives: what it lacks in width it has too much of
elsewhere, and stands off.

To the energy that it settled to, the squares of `s - 1` of both singular values of each triangle's map from round to flat,
come those of what they fall short of `1 / (1 + gives)`, weighing more; Newton's method, the curvature of each triangle kept
from falling below 0 (Smith, de Goes, Kim, ACM Transactions on Graphics 38 (2019), article 12; from memory), its step halved
until the energy falls.
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..curve import Values
from .mesh import Mesh

FIRST_TIMES, MORE_TIMES, MOST_TIMES = 200.0, 5.0, 2e5  # so much more what stretches too far weighs, till none does
WITHIN = 1.05  # it stretches by no more than it gives, within so much of that
MOST_ROUNDS = 60
SETTLED, NEARLY = 1e-7, 1e-2  # it is settled when the energy falls by less than this share of itself; or nearly
LEAST_STEP = 1e-4
RIDGE = 1e-9  # of the stiffest point; by itself the piece could be pushed and turned
SMALL = 1e-9
LOWER = np.flatnonzero(np.tri(6))  # of 6 by 6, each pair once
Complex = NDArray[np.complex128]


def held_to(gives: float, settled: Complex, rest: Complex, mesh: Mesh, times: Values, held: float) -> Complex:
    """Points `(n,)` that are `settled`, settled again so. `rest (k, 3)` are the triangles by themselves, which weigh `times
    (k,)` their areas; the two sides of what is slit are held together by so much.
    """
    weighs, z = FIRST_TIMES, settled
    while True:
        energy = _Energy(rest, mesh, times, 1 / (1 + gives), weighs, held)
        if z is settled and energy.stretch(z) <= gives:  # it need not by itself
            return z
        z = _settled(energy, z, NEARLY)
        if energy.stretch(z) <= WITHIN * gives or weighs >= MOST_TIMES:
            z = _settled(energy, z, SETTLED)
            if energy.stretch(z) <= WITHIN * gives or weighs >= MOST_TIMES:
                return z
        weighs *= MORE_TIMES


def _settled(energy: "_Energy", z: Complex, share: float) -> Complex:
    """The points where the energy falls by less than so great a share of itself."""
    from scipy.linalg.lapack import dpbtrf, dpbtrs  # where it is first asked for: it takes its time to come

    now = energy.of(z)
    for _ in range(MOST_ROUNDS):
        slope, curvature = energy.steepness(z)
        curvature[0] += RIDGE * curvature[0].max()
        taken, wrong = dpbtrf(curvature, lower=1, overwrite_ab=1)
        if wrong:  # slivers: it stays as it is
            break
        way, _ = dpbtrs(taken, -slope, lower=1, overwrite_b=1)
        step, on = 1.0, way[0::2] + 1j * way[1::2]
        while (there := energy.of(z + step * on)) > now and step > LEAST_STEP:
            step /= 2
        if there > now:
            break
        z, fell, now = z + step * on, now - there, there
        if fell <= share * now:
            break
    return z


class _Energy:
    """The energy of points, and how it changes with the parts `x, y` of each in turn."""

    def __init__(self, rest: Complex, mesh: Mesh, times: Values, least: float, weighs: float, held: float) -> None:
        p, q = rest[:, 1] - rest[:, 0], rest[:, 2] - rest[:, 0]
        double = (p.conj() * q).imag
        self.area = np.abs(double) / 2 * times
        self.mesh, self.least, self.weighs, self.held = mesh, least, weighs, held
        # the map from round to flat is A z + B z*, A and B so much of each corner
        ways = -2j * np.where(np.abs(double) < SMALL, SMALL, double)[:, None]
        self.of_a = np.stack([p.conj() - q.conj(), q.conj(), -p.conj()], axis=1) / ways
        self.of_b = np.stack([q - p, -q, p], axis=1) / ways

    def _maps(self, z: Complex) -> tuple[Complex, Complex, Values, Values]:
        corners = z[self.mesh.corners]
        a, b = (np.einsum("ij,ij->i", of, corners) for of in (self.of_a, self.of_b))
        return a, b, np.abs(a), np.abs(b)

    def stretch(self, z: Complex) -> float:
        """The most that any of it must stretch."""
        _, _, a, b = self._maps(z)
        return float(1 / max((a - b).min(), SMALL) - 1)

    def of(self, z: Complex) -> float:
        """The energy."""
        _, _, a, b = self._maps(z)
        each = sum((s - 1) ** 2 + self.weighs * np.maximum(self.least - s, 0) ** 2 for s in (a + b, a - b))
        apart = z[self.mesh.held] - z[self.mesh.after]
        return float(self.area @ each) + self.held * float((np.abs(apart) ** 2).sum())

    def steepness(self, z: Complex) -> tuple[Values, Values]:
        """Its slopes `(2 n,)`, and its curvature as a band below the diagonal, `(2 reach + 2, 2 n)`, column after column."""
        mesh, n = self.mesh, 2 * len(self.mesh.begins)
        a, b, long, wide = self._maps(z)
        s = np.stack([long + wide, long - wide])
        short = np.maximum(self.least - s, 0)
        slopes = self.area * (2 * (s - 1) - 2 * self.weighs * short)
        curves = self.area * (2 + 2 * self.weighs * (short > 0))
        by_a, by_b = slopes[0] + slopes[1], slopes[0] - slopes[1]
        both, differ = (curves[0] + curves[1])[:, None], (curves[0] - curves[1])[:, None]
        round_ = wide < SMALL  # it has no direction
        long, wide = np.maximum(long, SMALL), np.maximum(wide, SMALL)
        turn_a, turn_b = np.maximum(by_a / long, 0), np.where(round_, both[:, 0], np.maximum(by_b / wide, 0))
        # how A and B change along themselves and across with the parts of each corner: as complex numbers lie in memory
        u, v = (a / long)[:, None] * self.of_a.conj(), np.where(round_, 1.0, b / wide)[:, None] * self.of_b.conj()
        across_u, across_v = 1j * u, 1j * v
        ways = np.stack([u, across_u, v, across_v], axis=1).view(float)
        stiff = np.stack([
            both * u + differ * v, turn_a[:, None] * across_u, differ * u + both * v, turn_b[:, None] * across_v,
        ], axis=1).view(float)  # fmt: skip
        each = (ways.transpose(0, 2, 1) @ stiff).reshape(-1, 36)
        parts, at = _places(mesh)
        rows = 2 * mesh.reach + 2
        band = np.asarray(np.bincount(at, each[:, LOWER].ravel(), rows * n), float).reshape(n, rows).T
        pull = (by_a[:, None] * u + by_b[:, None] * v).view(float)
        slope = np.asarray(np.bincount(parts, pull.ravel(), n), float)
        one, other = mesh.held, mesh.after
        if len(one):
            apart = 2 * self.held * (z[one] - z[other])
            for k, part in enumerate((apart.real, apart.imag)):
                np.add.at(slope, 2 * one + k, part)
                np.add.at(slope, 2 * other + k, -part)
                np.add.at(band[0], np.concatenate([2 * one + k, 2 * other + k]), 2 * self.held)
                np.add.at(band, (2 * (other - one), 2 * one + k), -2 * self.held)
        return slope, band


@lru_cache(16)
def _places(mesh: Mesh) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The numbers of the parts of each triangle's corners, `(6 k,)`; and where in the band each pair of them is, `(21 k,)`."""
    parts = np.stack([2 * mesh.corners, 2 * mesh.corners + 1], axis=2).reshape(-1, 6)
    one, other = (parts[:, each] for each in np.divmod(LOWER, 6))
    at = np.minimum(one, other) * (2 * mesh.reach + 2) + np.abs(one - other)
    return parts.ravel(), at.ravel()
