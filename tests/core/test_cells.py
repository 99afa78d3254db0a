"""How many cells a box holds, against looking at each of them."""

import numpy as np
import pytest

from vow_line.core.cells import any_about, sums, sums_at_corners


@pytest.mark.parametrize("seed", range(12))
def test_sums_tell_what_looking_at_each_cell_does(seed: int) -> None:
    rng = np.random.default_rng(seed)
    cells = rng.random(rng.integers(1, 14, 2)) < rng.choice([0.03, 0.3])
    (n, m), (across, down) = cells.shape, rng.integers(0, 6, 2).tolist()
    near = any_about(sums_at_corners(cells), across, down)
    for i, j in np.ndindex(n, m):
        assert sums(cells)[i, j] == cells[: i + 1, : j + 1].sum()
        box = cells[max(i - across, 0) : i + across + 1, max(j - down, 0) : j + down + 1]
        assert near[i, j] == box.any()
