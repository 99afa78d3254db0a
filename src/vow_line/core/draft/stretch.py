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
        taken, wrong = dpbtrf(curvature, lower=1)
        if wrong:  # slivers: it stays as it is
            break
        way, _ = dpbtrs(taken, -slope, lower=1)
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
        a, b = (self.of_a * corners).sum(axis=1), (self.of_b * corners).sum(axis=1)
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
        """Its slopes `(2 n,)`, and its curvature as a band below the diagonal, `(2 reach + 2, 2 n)`."""
        mesh, n = self.mesh, 2 * len(self.mesh.begins)
        a, b, long, wide = self._maps(z)
        slopes, curves = zip(*(
            (2 * (s - 1) - 2 * self.weighs * np.maximum(self.least - s, 0), 2 + 2 * self.weighs * (s < self.least))
            for s in (long + wide, long - wide)
        ), strict=True)  # fmt: skip
        by_a, by_b = slopes[0] + slopes[1], slopes[0] - slopes[1]
        both, differ = curves[0] + curves[1], curves[0] - curves[1]
        round_ = wide < SMALL  # it has no direction
        turn_a = np.maximum(by_a / np.maximum(long, SMALL), 0)
        turn_b = np.where(round_, both, np.maximum(by_b / np.maximum(wide, SMALL), 0))
        along_a = (a / np.maximum(long, SMALL)).conj()[:, None] * self.of_a
        along_b = np.where(round_, 1.0, b / np.maximum(wide, SMALL)).conj()[:, None] * self.of_b
        # how A and B change along themselves and across with the parts of each corner
        ways = np.empty((len(a), 4, 6))
        for k, change in ((0, along_a), (2, along_b)):
            ways[:, k, 0::2], ways[:, k, 1::2] = change.real, -change.imag
            ways[:, k + 1, 0::2], ways[:, k + 1, 1::2] = change.imag, change.real
        stiff = np.empty_like(ways)
        stiff[:, 0] = both[:, None] * ways[:, 0] + differ[:, None] * ways[:, 2]
        stiff[:, 2] = differ[:, None] * ways[:, 0] + both[:, None] * ways[:, 2]
        stiff[:, 1], stiff[:, 3] = turn_a[:, None] * ways[:, 1], turn_b[:, None] * ways[:, 3]
        each = ways.transpose(0, 2, 1) @ (self.area[:, None, None] * stiff)
        parts, lower, at = _places(mesh)
        rows = 2 * mesh.reach + 2
        band = np.asarray(np.bincount(at, each.reshape(-1, 36)[lower], rows * n), float).reshape(rows, n)
        pull = self.area[:, None] * (by_a[:, None] * ways[:, 0] + by_b[:, None] * ways[:, 2])
        slope = np.asarray(np.bincount(parts.ravel(), pull.ravel(), n), float)
        one, other = mesh.held, mesh.after
        apart = 2 * self.held * (z[one] - z[other])
        for k, part in enumerate((apart.real, apart.imag)):
            np.add.at(slope, 2 * one + k, part)
            np.add.at(slope, 2 * other + k, -part)
            np.add.at(band[0], np.concatenate([2 * one + k, 2 * other + k]), 2 * self.held)
            np.add.at(band, (2 * (other - one), 2 * one + k), -2 * self.held)
        return slope, band


@lru_cache(16)
def _places(mesh: Mesh) -> tuple[NDArray[np.int64], NDArray[np.bool_], NDArray[np.int64]]:
    """The numbers of the parts of each triangle's corners `(k, 6)`; which of the 36 pairs of them lie on or below the diagonal
    `(k, 36)`, and where each of those is in the band.
    """
    parts = np.stack([2 * mesh.corners, 2 * mesh.corners + 1], axis=2).reshape(-1, 6)
    down, along = np.meshgrid(range(6), range(6), indexing="ij")
    row, column = parts[:, down.ravel()], parts[:, along.ravel()]
    lower = row >= column
    return parts, lower, ((row - column) * 2 * len(mesh.begins) + column)[lower]
