"""What the maker decides about thread."""

from typing import Annotated, Literal

from pydantic import Field

from ..frozen import Frozen

DEFAULT_SLACK = 0.03


class Thread(Frozen):
    """A thread as it lies on its spool; `left_mm` is what is still on it."""

    name: str = "waxed linen"
    material: Literal["linen", "polyester", "nylon", "sinew"] = "linen"
    diameter_mm: Annotated[float, Field(gt=0, le=4)] = 0.8
    left_mm: Annotated[float, Field(ge=0, le=10_000_000)] = 50_000.0


class Slack(Frozen):
    """Thread used beyond the path of the needles, as a share of it; from how many jobs it was learned, and its spread."""

    value: Annotated[float, Field(ge=-0.5, le=1)] = DEFAULT_SLACK
    jobs: Annotated[int, Field(ge=0)] = 0
    spread: Annotated[float, Field(ge=0, le=1)] = 0.05


class ThreadChoices(Frozen):
    """Thread, needles and how ends are made. `reach_mm` is how much a needle can draw at arm's length."""

    thread: Thread = Thread()
    stitch: str = "saddle"
    needle_mm: Annotated[float, Field(gt=0, le=300)] = 50.0
    start: Literal["first hole", "third hole"] = "first hole"
    edge_loops: Annotated[int, Field(ge=0, le=4)] = 0
    back_stitches: Annotated[int, Field(ge=0, le=10)] = 2
    first_needle: Literal["left", "right"] = "left"
    second_needle: Literal["below", "above"] = "below"
    compression: Annotated[float, Field(ge=0, le=0.5)] = 0.05
    reach_mm: Annotated[float, Field(ge=200, le=5000)] = 1800.0
    slack: Slack = Slack()
