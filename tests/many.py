"""How many random cases a test tries: all of them in the chore, `./run soak`, a tenth in the suite."""

import os

ALL = os.environ.get("VOW_LINE_MANY") == "all"


def many(cases: int) -> int:
    """So many in the chore, and a tenth of them in the suite."""
    return cases if ALL else max(cases // 10, 1)


def examples(cases: int) -> int:
    """How many of what is drawn by hypothesis, which meets the odd ones first: a third in the suite."""
    return cases if ALL else max(cases // 3, 4)
