"""How a surface of rows and columns of points is parted into triangles, and cut open."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True, slots=True, eq=False)
class Mesh:
    """How a surface is parted: its `columns`, one that is slit twice; its triangles' `corners (k, 3)`; its edges `(e, 2)`, and
    which of them faces each corner, `facing (3 k,)`; the corners in the `order` of their points, and where each point's begin;
    points `held` to those `after` them; no edge joins points whose numbers lie farther apart than `reach`.
    """

    columns: NDArray[np.int64]
    doubled: tuple[int, ...]
    corners: NDArray[np.int64]
    edges: NDArray[np.int64]
    facing: NDArray[np.int64]
    order: NDArray[np.int64]
    begins: NDArray[np.int64]
    held: NDArray[np.int64]
    after: NDArray[np.int64]
    reach: int


@lru_cache(16)
def mesh_of(
    rows: int, columns: int, cut: tuple[int, ...], first: int, end: int, across: tuple[int, tuple[int, int]] | None
) -> Mesh:
    """The mesh of a surface of so many points that is slit along some of its columns, from one row on and before another, or
    `across` after a row but for two columns and those between them: the same for all that are cut alike.
    """
    twice = np.sort(np.concatenate([np.arange(columns), np.array(cut, int)]))
    doubled = tuple(c + k for k, c in enumerate(cut))
    columns = len(twice)
    corners = triangles(rows, columns)
    down, along = divmod(np.arange((rows - 1) * (columns - 1)), columns - 1)
    there = ~np.isin(along, doubled)  # nothing lies between the two sides of a slit
    if across is not None:
        there &= down != across[0]
    corners = corners[np.tile(there, 2)]
    held = np.array([r * columns + c for r in range(rows) if not first <= r < end for c in doubled], int)
    after = held + 1
    if across is not None:
        whole = across[0] * columns + np.arange(across[1][0], across[1][1] + 1)
        held, after = np.append(held, whole), np.append(after, whole + columns)
    pairs = np.sort(corners[:, [[1, 2], [2, 0], [0, 1]]].reshape(-1, 2), axis=1)
    edges, facing = np.unique(pairs, axis=0, return_inverse=True)
    at = corners.ravel()
    order = np.argsort(at, kind="stable")
    begins = np.searchsorted(at[order], np.arange(rows * columns))
    return Mesh(twice, doubled, corners, edges, facing.ravel(), order, begins, held, after, columns + 1)


def triangles(rows: int, columns: int) -> NDArray[np.int64]:
    """Two triangles for each square between so many rows and columns of points, their diagonals mirrored about the middle."""
    i, j = np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij")
    a, b = i * columns + j, i * columns + j + 1
    c, d = a + columns, b + columns
    left = j < (columns - 1) / 2
    one = np.where(left[..., None], np.stack([a, b, d], -1), np.stack([a, b, c], -1))
    two = np.where(left[..., None], np.stack([a, d, c], -1), np.stack([b, d, c], -1))
    return np.concatenate([one.reshape(-1, 3), two.reshape(-1, 3)])
