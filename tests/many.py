"""How many random cases a test tries: all of them in the chore, `./run soak`, a tenth in the suite."""

import os

ALL = os.environ.get("VOW_LINE_MANY") == "all"


def many(cases: int) -> int:
    """So many in the chore, and a tenth of them in the suite."""
    return cases if ALL else max(cases // 10, 1)
