"""Squares of a grid, of which some are set: how many of them lie in a box, by sums over all that lie above and left."""

import numpy as np
from numpy.typing import NDArray

Cells = NDArray[np.bool_]
Sums = NDArray[np.int32]


def sums(cells: Cells) -> Sums:
    """For each of the cells `(n, m)` how many above and left of it, itself among them, are set."""
    rows: Sums = np.cumsum(cells, axis=1, dtype=np.int32)
    return np.cumsum(rows, axis=0, out=rows)


def sums_at_corners(cells: Cells) -> Sums:
    """The same for each corner of the cells, `(n + 1, m + 1)`: how many any box holds is told by four of them."""
    at_corners = np.zeros((cells.shape[0] + 1, cells.shape[1] + 1), dtype=np.int32)
    at_corners[1:, 1:] = sums(cells)
    return at_corners


def any_about(of: Sums, across: int, down: int) -> Cells:
    """For each cell whether any is set that lies no more than so many from it, by the sums at the cells' corners."""
    n, m = of.shape[0] - 1, of.shape[1] - 1
    i, j = np.arange(n), np.arange(m)
    far, near = of[np.minimum(i + across + 1, n)], of[np.maximum(i - across, 0)]
    right, left = np.minimum(j + down + 1, m), np.maximum(j - down, 0)
    between = far - near
    return between[:, right] > between[:, left]
