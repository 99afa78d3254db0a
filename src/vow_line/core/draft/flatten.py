"""Flat from round: a surface cut open is laid flat so that it is stretched as little as may be.

The outline settles to the least energy of what its triangles must turn, stretch and shrink: a rigid fit to each, then all of
them together, over and over (local and global steps; Liu, Zhang, Xu, Gotsman, Gortler, Computer Graphics Forum 27 (2008),
1495-1504), made faster by Anderson's mixing, whose step is refused where the energy would rise. It starts from the cone that
fits best.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..curve import Line, Values, frozen
from .mesh import Mesh, mesh_of
from .stretch import held_to

MOST_ROUNDS = 200
SETTLED = 1e-11  # it is settled when the energy falls by less than this share of itself
ROUNDED = 1e-15  # or by less than is lost where the sums it is the difference of are rounded
DEEP = 6  # rounds that are mixed
HELD = 1e3  # two points are held together by so much, where edges weigh about 1
Complex = NDArray[np.complex128]


@dataclass(frozen=True, slots=True, eq=False)
class Flat:
    """A surface laid flat: its points `(n + 1, m + 1, 2)`, rows and columns as the surface's, its middle column upright, the
    first row at the top; its triangles `(k, 3)` by number of point; how much each must stretch, and how much shrink, to become
    round again, `(k,)`; the energies it settled through. Where it is slit a column of points is there twice, the first of both
    by its number in `doubled`; its sides part from one row on and before another. Where it is slit across, in from both its
    edges, a row is there twice, the first of both `across`; they are one between two of its columns, `joined`.
    """

    points: Values
    triangles: NDArray[np.int64]
    most: Values
    least: Values
    energies: tuple[float, ...]
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
        return len(self.energies) > MOST_ROUNDS or bool((self.least <= -1).any())

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
    settled, energies = _settle(_System(rest, mesh, weights), start)
    if gives:
        settled = held_to(gives, settled, rest, mesh, np.ones(len(rest)) if weights is None else weights, HELD)
    settled[mesh.held] = settled[mesh.after] = (settled[mesh.held] + settled[mesh.after]) / 2
    z = _upright(settled.reshape(down.shape[:2]).T)
    most, least = _strains(z.T.ravel(), rest, mesh.corners)
    row, joined = (None, (0, 0)) if across is None else across
    return Flat(
        np.stack([z.real, z.imag], axis=-1), mesh.triangles, most, least, tuple(energies), mesh.doubled, (first, end), row,
        joined,
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


class _System:
    """The energy and its two steps. Each triangle's edges weigh as the cotangents of the angles they face."""

    def __init__(self, rest: Complex, mesh: Mesh, times: Values | None) -> None:
        edge = rest[:, [1, 2, 0]] - rest[:, [2, 0, 1]]
        faced = (rest[:, [1, 2, 0]] - rest) * (rest[:, [2, 0, 1]] - rest).conj()
        weight = faced.real / np.maximum(np.abs(faced.imag), 1e-12) / 2
        if times is not None:
            weight *= times[:, None]
        pull = weight * edge
        self.mesh = mesh
        self.pull = (
            pull[:, [2, 0, 1]] - pull[:, [1, 2, 0]]
        )  # what each corner is drawn by: as start of one edge, end of another
        self.towards = self.pull.conj()
        self.own = float((weight * np.abs(edge) ** 2).sum())
        self.i, self.j = (np.ascontiguousarray(k) for k in mesh.edges.T)
        of_edge = np.bincount(mesh.facing, weight.ravel(), len(mesh.edges))
        self.weight = np.repeat(of_edge, 2)  # of the parts of complex numbers as they lie
        self.solve = _laplacian(
            np.concatenate([self.i, mesh.held]), np.concatenate([self.j, mesh.after]),
            np.concatenate([of_edge, np.full(len(mesh.held), HELD)]), len(mesh.begins), mesh.reach,
        )  # fmt: skip

    def step(self, z: Complex) -> tuple[Complex, float]:
        """Where the points go next, and the energy of where they are."""
        way = z[self.i]
        way -= z[self.j]
        parts = way.view(np.float64)
        fit = np.einsum("ij,ij->i", self.towards, z[self.mesh.corners])
        size = np.abs(fit)
        energy = float(self.weight @ (parts * parts)) + self.own - 2 * float(size.sum())
        fit /= np.maximum(size, 1e-12)
        drawn = (self.pull * fit[:, None]).ravel()
        moved = self.solve(np.add.reduceat(drawn[self.mesh.order], self.mesh.begins))
        return moved - moved[0], energy


def _laplacian(
    i: NDArray[np.int64], j: NDArray[np.int64], weight: Values, n: int, reach: int
) -> Callable[[Complex], Complex]:
    """What solves for the Laplacian of edges `i` to `j`, one point held, by LAPACK's banded Cholesky: the numbers of points
    that an edge joins lie no farther apart than `reach`.
    """
    from scipy.linalg.lapack import dpbtrf, dpbtrs  # where a limb is first laid flat: it takes its time to come

    band = np.zeros((reach + 1, n))
    np.subtract.at(band, (np.abs(i - j), np.minimum(i, j)), weight)
    band[0] = np.bincount(np.concatenate([i, j]), np.concatenate([weight, weight]), n)
    band[0, 0] += 1.0
    ridge = 0.0
    while True:
        taken, wrong = dpbtrf(band, lower=1)
        if not wrong:
            break
        more = max(10 * ridge, 1e-12 * float(np.abs(band[0]).max()))  # slivers round to less than nothing
        band[0] += more - ridge
        ridge = more

    def solve(b: Complex) -> Complex:
        both = np.empty((n, 2), order="F")
        both[:, 0], both[:, 1] = b.real, b.imag
        x, _ = dpbtrs(taken, both, lower=1, overwrite_b=1)
        moved = np.empty(n, complex)
        moved.real, moved.imag = x[:, 0], x[:, 1]
        return moved

    return solve


def _settle(system: _System, start: Complex) -> tuple[Complex, list[float]]:
    """The points at rest, and the energy after each round."""
    z = start - start[0]
    moved, energy = system.step(z)
    energies = [energy]
    mixing = _Mixing(len(z))
    for _ in range(MOST_ROUNDS):
        mixing.add(moved, moved - z)
        tried = mixing.mixed()
        tried_next, tried_energy = system.step(tried)
        if tried_energy > energy:  # refused: the plain step never raises it
            tried = moved
            tried_next, tried_energy = system.step(tried)
            mixing.restart()
        fell = energy - tried_energy
        z, moved, energy = tried, tried_next, tried_energy
        energies.append(energy)
        if fell <= max(SETTLED * abs(energy), ROUNDED * system.own):
            break
    return z, energies


class _Mixing:
    """Anderson's mixing of the last rounds: where each went, and on which way."""

    def __init__(self, n: int) -> None:
        self.steps, self.ways = np.empty((DEEP + 1, 2 * n)), np.empty((DEEP + 1, 2 * n))
        self.known = self.last = 0

    def add(self, step: Complex, way: Complex) -> None:
        """One round more, in the place of the oldest."""
        self.last = (self.last + 1) % len(self.steps) if self.known else 0
        self.known = min(self.known + 1, len(self.steps))
        self.steps[self.last], self.ways[self.last] = step.view(np.float64), way.view(np.float64)

    def restart(self) -> None:
        """Forget all but the last."""
        self.steps[0], self.ways[0] = self.steps[self.last], self.ways[self.last]
        self.last, self.known = 0, 1

    def mixed(self) -> Complex:
        """The mix of them whose way is shortest."""
        from scipy.linalg.lapack import dposv

        k, last = self.known, self.last
        if k < 2:
            return self.steps[last].view(complex)
        differ = self.ways[last] - self.ways[:k]
        normal = differ @ differ.T
        normal.ravel()[:: k + 1] *= 1 + 1e-10
        normal[last, last] = 1.0  # the last takes what the others leave
        _, shares, wrong = dposv(normal, differ @ self.ways[last])
        if wrong:  # two rounds were the same
            return self.steps[last].view(complex)
        shares[last] = 1 - (shares.sum() - shares[last])
        return np.asarray(shares @ self.steps[:k]).view(complex)


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
