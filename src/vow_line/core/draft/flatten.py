"""Flat from round: a surface cut open is laid flat so that it is stretched as little as may be. It settles from the cone that
fits best.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..curve import Line, Values, frozen
from .mesh import mesh_of
from .settle import Complex, Energy, settled
from .stretch import held_to

SETTLED = 1e-8  # it is settled when the energy falls by less than this share of itself
HELD = 1e3  # two points are held together by so much, where edges weigh about 1


@dataclass(frozen=True, slots=True, eq=False)
class Flat:
    """A surface laid flat: its points `(n + 1, m + 1, 2)`, rows and columns as the surface's, its middle column upright, the
    first row at the top; its triangles `(k, 3)` by number of point; how much each must stretch, and how much shrink, to become
    round again, `(k,)`; the energies it went through, and whether it settled. Where it is slit a column of points is there
    twice, the first of both by its number in `doubled`; its sides part from one row on and before another. Where it is slit
    across, in from both its edges, a row is there twice, the first of both `across`; they are one between two of its columns,
    `joined`.
    """

    points: Values
    triangles: NDArray[np.int64]
    most: Values
    least: Values
    energies: tuple[float, ...]
    settled: bool
    doubled: tuple[int, ...] = ()
    slit: tuple[int, int] = (0, 0)
    across: int | None = None
    joined: tuple[int, int] = (0, 0)

    @property
    def folded(self) -> bool:
        """Whether it did not settle, a triangle lies turned over, or the outline crosses itself."""
        from shapely import LinearRing

        return self.astray or not LinearRing(self.outline).is_simple

    @property
    def astray(self) -> bool:
        """Whether it did not settle, or a triangle lies turned over."""
        return not self.settled or bool((self.least <= -1).any())

    @property
    def areas_mm2(self) -> tuple[float, float]:
        """How large it is flat, and round."""
        p = self.points.reshape(-1, 2)[self.triangles] @ np.array([1, 1j])
        flat = np.abs(((p[:, 1] - p[:, 0]).conj() * (p[:, 2] - p[:, 0])).imag) / 2
        return float(flat.sum()), float((flat * (1 + self.most) * (1 + self.least)).sum())

    @property
    def outline(self) -> Line:
        """Round it, from its first point along the first row."""
        p = self.points
        if self.across is None:
            return frozen(np.concatenate([p[0, :-1], p[:-1, -1], p[-1, :0:-1], p[:0:-1, 0]]))
        k, (a, b) = self.across, self.joined
        return frozen(np.concatenate([
            p[0, :-1], p[:k, -1], p[k, :b:-1], p[k + 1, b:-1], p[k + 1 : -1, -1],
            p[-1, :0:-1], p[-1 : k + 1 : -1, 0], p[k + 1, :a], p[k, a:0:-1], p[k:0:-1, 0],
        ]))  # fmt: skip


def flatten(
    points: Values, weights: Values | None = None, slits: tuple[tuple[int, ...], int, int] = ((), 0, 0),
    across: tuple[int, tuple[int, int]] | None = None, gives: float = 0.0,
) -> Flat:  # fmt: skip
    """A surface `(n + 1, m + 1, 3)` laid flat; with `weights (k,)` some of its triangles count more. With `slits` it is cut
    open along some of its columns, from one row on and before another; with `across` between a row and the next, which must be
    the same, but for two columns and those between them. Where the leather `gives` it need stretch by no more than that share,
    and shrinks the more.
    """
    cut, first, end = slits
    mesh = mesh_of(points.shape[0], points.shape[1], tuple(sorted(cut)), first, end, across)
    start = best_cone(points).reshape(points.shape[:2]).T[mesh.columns].ravel()
    down = points.transpose(1, 0, 2)[mesh.columns]
    rest = _flat_each(down.reshape(-1, 3), mesh.corners)
    energy = Energy(rest, mesh, 1.0 if weights is None else weights, HELD)
    flat, energies, still = settled(energy, start, SETTLED)
    if gives:
        flat = held_to(gives, energy, flat)
    flat[mesh.held] = flat[mesh.after] = (flat[mesh.held] + flat[mesh.after]) / 2
    z = _upright(flat.reshape(down.shape[:2]).T)
    most, least = _strains(z.T.ravel(), rest, mesh.corners)
    row, joined = (None, (0, 0)) if across is None else across
    return Flat(
        np.stack([z.real, z.imag], axis=-1), mesh.triangles, most, least, tuple(energies), still, mesh.doubled, (first, end),
        row, joined,
    )  # fmt: skip


def best_cone(points: Values) -> Complex:
    """Where the points come to lie when the surface is taken for the right cone, or cylinder, that fits best: a line through
    the girths against the mean slant height.
    """
    columns = points.shape[1]
    girth = np.linalg.norm(np.diff(points, axis=1), axis=2).sum(axis=1)
    slant = np.append(0.0, np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=2).mean(axis=1)))
    off = slant - slant.mean()
    rise = float(off @ (girth - girth.mean()) / (off @ off))
    start = float(girth.mean() - rise * slant.mean())
    across = np.linspace(-0.5, 0.5, columns)
    if abs(rise) < 1e-4:
        u, v = np.meshgrid(across * girth.mean(), slant)
        return np.asarray(u + 1j * v).ravel()
    angle = rise
    radius = (start + rise * slant) / angle
    turn = across * angle
    z = radius[:, None] * np.exp(1j * (np.pi / 2 - turn))[None, :]
    return np.asarray(z).ravel()


def _flat_each(points: Values, corners: NDArray[np.int64]) -> Complex:
    """Each triangle by itself laid flat, `(k, 3)`, its first corner at 0, its second to the right."""
    a, b, c = (points[corners[:, k]] for k in range(3))
    along = np.linalg.norm(b - a, axis=1)
    way = (b - a) / np.maximum(along, 1e-12)[:, None]
    u = ((c - a) * way).sum(axis=1)
    v = np.linalg.norm((c - a) - u[:, None] * way, axis=1)
    return np.stack([np.zeros(len(u), complex), along.astype(complex), u + 1j * v], axis=1)


def _upright(z: Complex) -> Complex:
    """Turned so that the middle of the first row lies straight above that of the last, the surface not flipped."""
    middle = z.shape[1] // 2
    top, low = complex(z[0, middle]), complex(z[-1, middle])
    turn = 1j * abs(low - top) / (low - top)
    z = (z - top) * turn
    if z[0, -1].real < z[0, 0].real:
        z = -z.conj()
    return z


def _strains(z: Complex, rest: Complex, corners: NDArray[np.int64]) -> tuple[Values, Values]:
    """How much each triangle is stretched and shrunk from flat to round: of the linear map A z + B z*, its singular values
    |A| + |B| and |A| - |B|, less 1.
    """
    a, b, c = (z[corners[:, k]] for k in range(3))
    e, f = b - a, c - a
    p, q = rest[:, 1] - rest[:, 0], rest[:, 2] - rest[:, 0]
    area = e * f.conj() - f * e.conj()
    area = np.where(np.abs(area) < 1e-12, 1e-12j, area)
    one, two = (p * f.conj() - q * e.conj()) / area, (e * q - f * p) / area
    return np.abs(one) + np.abs(two) - 1, np.abs(one) - np.abs(two) - 1
