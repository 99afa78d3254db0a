"""How a surface of rows and columns of points is parted into triangles, and cut open."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True, slots=True, eq=False)
class Mesh:
    """How a surface is parted: its `columns`, one that is slit twice; its `triangles (k, 3)` by its points row by row.

    The rest numbers the points down one column after another, as there are fewer in a column than in a row, so that no edge
    joins any whose numbers lie farther apart than `reach`: the same triangles' `corners (k, 3)`; how `many` points there are;
    points `held` to those `after` them.
    """

    columns: NDArray[np.int64]
    doubled: tuple[int, ...]
    triangles: NDArray[np.int64]
    corners: NDArray[np.int64]
    many: int
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
    by_rows = triangles(rows, columns)
    down, along = divmod(np.arange((rows - 1) * (columns - 1)), columns - 1)
    there = ~np.isin(along, doubled)  # nothing lies between the two sides of a slit
    if across is not None:
        there &= down != across[0]
    by_rows = by_rows[np.tile(there, 2)]
    row, column = divmod(by_rows, columns)
    corners = column * rows + row
    held = np.array([c * rows + r for r in range(rows) if not first <= r < end for c in doubled], int)
    after = held + rows
    if across is not None:
        whole = np.arange(across[1][0], across[1][1] + 1) * rows + across[0]
        held, after = np.append(held, whole), np.append(after, whole + 1)
    return Mesh(twice, doubled, by_rows, corners, rows * columns, held, after, rows + 1)


def triangles(rows: int, columns: int) -> NDArray[np.int64]:
    """Two triangles for each square between so many rows and columns of points, their diagonals mirrored about the middle."""
    i, j = np.meshgrid(np.arange(rows - 1), np.arange(columns - 1), indexing="ij")
    a, b = i * columns + j, i * columns + j + 1
    c, d = a + columns, b + columns
    left = j < (columns - 1) / 2
    one = np.where(left[..., None], np.stack([a, b, d], -1), np.stack([a, b, c], -1))
    two = np.where(left[..., None], np.stack([a, d, c], -1), np.stack([b, d, c], -1))
    return np.concatenate([one.reshape(-1, 3), two.reshape(-1, 3)])
