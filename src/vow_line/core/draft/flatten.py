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


def triangles(rows: int, columns: int) -> NDArray[np.int64]:
    """Two triangles for each square between so many rows and columns of points, their diagonals mirrored about the middle."""
    i, j = np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij")
    a, b = i * columns + j, i * columns + j + 1
    c, d = a + columns, b + columns
    left = j < (columns - 1) / 2
    one = np.where(left[..., None], np.stack([a, b, d], -1), np.stack([a, b, c], -1))
    two = np.where(left[..., None], np.stack([a, d, c], -1), np.stack([b, d, c], -1))
    return np.concatenate([one.reshape(-1, 3), two.reshape(-1, 3)])


def flatten(
    points: Values, weights: Values | None = None, slits: tuple[tuple[int, ...], int, int] = ((), 0, 0),
    across: tuple[int, tuple[int, int]] | None = None,
) -> Flat:  # fmt: skip
    """A surface `(n + 1, m + 1, 3)` laid flat; with `weights (k,)` some of its triangles count more. With `slits` it is cut
    open along some of its columns, from one row on and before another; with `across` between a row and the next, which must be
    the same, but for two columns and those between them.
    """
    cut, first, end = slits
    twice = np.sort(np.concatenate([np.arange(points.shape[1]), np.array(cut, int)]))
    doubled = tuple(c + k for k, c in enumerate(sorted(cut)))
    start = best_cone(points).reshape(points.shape[:2])[:, twice].ravel()
    points = points[:, twice]
    rows, columns = points.shape[:2]
    corners = triangles(rows, columns)
    row, joined = (None, (0, 0)) if across is None else across
    down, along = divmod(np.arange((rows - 1) * (columns - 1)), columns - 1)
    there = ~np.isin(along, doubled) & (down != row)  # nothing lies between the two sides of a slit
    corners = corners[np.tile(there, 2)]
    held = np.array([r * columns + c for r in range(rows) if not first <= r < end for c in doubled], int)
    after = held + 1
    if row is not None:
        whole = row * columns + np.arange(joined[0], joined[1] + 1)
        held, after = np.append(held, whole), np.append(after, whole + columns)
    rest = _flat_each(points.reshape(-1, 3), corners)
    times = np.ones(len(corners)) if weights is None else weights
    system = _System(rest, corners, rows * columns, columns, times, held, after)
    settled, energies = _settle(system, np.ascontiguousarray(start))
    settled[held] = settled[after] = (settled[held] + settled[after]) / 2
    z = _upright(settled.reshape(rows, columns))
    most, least = _strains(z.ravel(), rest, corners)
    return Flat(
        np.stack([z.real, z.imag], axis=-1), corners, most, least, tuple(energies), doubled, (first, end), row, joined
    )


def best_cone(points: Values) -> Complex:
    """Where the points come to lie when the surface is taken for the right cone, or cylinder, that fits best: a line through
    the girths against the mean slant height.
    """
    columns = points.shape[1]
    girth = np.linalg.norm(np.diff(points, axis=1), axis=2).sum(axis=1)
    slant = np.append(0.0, np.cumsum(np.linalg.norm(np.diff(points, axis=0), axis=2).mean(axis=1)))
    rise, start = np.polyfit(slant, girth, 1)
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
    """The energy and its two steps. Each triangle's edges weigh as the cotangents of the angles they face; points `held` are
    held to those `after` them.
    """

    def __init__(
        self, rest: Complex, corners: NDArray[np.int64], n: int, columns: int, times: Values, held: NDArray[np.int64],
        after: NDArray[np.int64],
    ) -> None:  # fmt: skip
        self.i, self.j = (np.ascontiguousarray(corners[:, k]) for k in ([1, 2, 0], [2, 0, 1]))
        edge = rest[:, [1, 2, 0]] - rest[:, [2, 0, 1]]
        faced = (rest[:, [1, 2, 0]] - rest) * (rest[:, [2, 0, 1]] - rest).conj()
        weight = faced.real / np.maximum(np.abs(faced.imag), 1e-12) * times[:, None] / 2
        self.pull = weight * edge
        self.towards = self.pull.conj()
        self.own = float((weight * np.abs(edge) ** 2).sum())
        self.weight = np.repeat(weight.ravel(), 2)  # of the parts of complex numbers as they lie
        at = np.concatenate([self.i.ravel(), self.j.ravel()])
        self.order = np.argsort(at, kind="stable")
        self.begins = np.searchsorted(at[self.order], np.arange(n))
        self.solve = _laplacian(
            np.concatenate([self.i.ravel(), held]), np.concatenate([self.j.ravel(), after]),
            np.concatenate([weight.ravel(), np.full(len(held), HELD)]), n, columns + 1,
        )  # fmt: skip

    def step(self, z: Complex) -> tuple[Complex, float]:
        """Where the points go next, and the energy of where they are."""
        way = z[self.i]
        way -= z[self.j]
        fit = np.einsum("ij,ij->i", self.towards, way)
        size = np.abs(fit)
        energy = float(self.weight @ np.square(way.view(np.float64).ravel())) + self.own - 2 * float(size.sum())
        fit /= np.maximum(size, 1e-12)
        drawn = (self.pull * fit[:, None]).ravel()
        gathered = np.add.reduceat(np.concatenate([drawn, -drawn])[self.order], self.begins)
        moved = self.solve(gathered)
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
        x, _ = dpbtrs(taken, np.array([b.real, b.imag]).T, lower=1, overwrite_b=1)
        return np.asarray(x[:, 0] + 1j * x[:, 1])

    return solve


def _settle(system: _System, start: Complex) -> tuple[Complex, list[float]]:
    """The points at rest, and the energy after each round."""
    z = start - start[0]
    moved, energy = system.step(z)
    energies = [energy]
    steps: list[Complex] = []
    ways: list[Complex] = []
    for _ in range(MOST_ROUNDS):
        way = moved - z
        steps, ways = [*steps[-DEEP:], moved], [*ways[-DEEP:], way]
        tried = _mixed(steps, ways)
        tried_next, tried_energy = system.step(tried)
        if tried_energy > energy:  # refused: the plain step never raises it
            tried = moved
            tried_next, tried_energy = system.step(tried)
            steps, ways = steps[-1:], ways[-1:]
        fell = energy - tried_energy
        z, moved, energy = tried, tried_next, tried_energy
        energies.append(energy)
        if fell <= max(SETTLED * abs(energy), ROUNDED * system.own):
            break
    return z, energies


def _mixed(steps: list[Complex], ways: list[Complex]) -> Complex:
    """Anderson's mixing of the last rounds: the mix of them whose way is shortest."""
    if len(ways) < 2:
        return steps[-1]
    way = _real(np.array(ways))
    differ = way[-1] - way[:-1]
    normal = differ @ differ.T
    normal[np.diag_indices(len(normal))] *= 1 + 1e-10
    try:
        shares = np.linalg.solve(normal, differ @ way[-1])
    except np.linalg.LinAlgError:  # two rounds were the same
        return steps[-1]
    return np.asarray((1 - shares.sum()) * steps[-1] + shares @ np.array(steps[:-1]))


def _real(z: Complex) -> Values:
    return z.view(np.float64)


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
