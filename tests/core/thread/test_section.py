"""The thread in the cut seam, as far as it is sewn."""

import numpy as np
import pytest

from vow_line.core.stitch.straight import straight_seam
from vow_line.core.thread import ThreadChoices, sewn_with
from vow_line.core.thread.section import lying, places
from vow_line.core.thread.stitches import STITCHES


@pytest.mark.parametrize("name", sorted(STITCHES))
def test_thread_is_drawn_from_where_it_lies_to_where_it_goes(name: str) -> None:
    """Every needle's lines join on, on the faces and through the stack, and the last one grows with its share."""
    stitch = STITCHES[name]
    sewn = sewn_with(stitch, straight_seam(40, 4, 6, 3.5, stitch.sews[0]), ThreadChoices())
    every = lying(sewn, len(sewn.moves), 0.0, -100, 200)
    at: dict[int, np.ndarray] = {}
    for one in every:
        if one.needle in at and stitch.threads == 1:
            assert np.hypot(*(one.line[0] - at[one.needle])) < 1e-6
        at[one.needle] = one.line[-1]
    depth = np.concatenate([one.line[:, 1] for one in every])
    assert depth.min() == pytest.approx(-0.4)
    assert depth.max() == pytest.approx(6.4)
    k = next(i for i, m in enumerate(sewn.moves) if m.act == "pass" or m.act == "lock")
    long = [np.hypot(*np.diff(lying(sewn, k, share, -100, 200)[-1].line, axis=0).T).sum() for share in (0.25, 0.5, 1.0)]
    assert long == pytest.approx([long[2] / 4, long[2] / 2, long[2]])


def test_only_what_is_near_is_drawn() -> None:
    sewn = sewn_with(STITCHES["saddle"], straight_seam(400, 4, 6), ThreadChoices(reach_mm=5000))
    near = lying(sewn, len(sewn.moves), 0.0, 100, 120)
    assert 0 < len(near) < 40
    assert places(sewn)[25] == pytest.approx(100)
