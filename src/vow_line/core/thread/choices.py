"""What the maker decides about thread."""

from typing import Annotated, Literal

from pydantic import Field

from ..draft.ids import base
from ..frozen import Frozen
from ..texts import Said, said

Finish = Literal["back-stitches", "buried-knot", "overlap"]
DEFAULT_SLACK = 0.03
MOST_REACH_MM = 5000.0
NEXT_JOB_SPREAD = 0.07  # of slack no job has taught yet: 5 % between makers and 5 % between jobs, in squares

Material = Literal["linen", "cotton", "polyester", "nylon", "sinew", "leather"]
MATERIALS: dict[Material, Said] = {
    "linen": said("linen"), "cotton": said("cotton"), "polyester": said("polyester"), "nylon": said("nylon"),
    "sinew": said("sinew"), "leather": said("leather"),
}  # fmt: skip
MELTS: frozenset[Material] = frozenset({"polyester", "nylon"})
STRETCHES: frozenset[Material] = frozenset({"nylon", "sinew", "leather"})


class Thread(Frozen):
    """A thread as it lies on its spool: what it is sold as, `left_mm` still on it, what a metre costs."""

    name: Annotated[str, Field(max_length=200)] = "waxed linen"
    material: Material = "linen"
    sold_as: Annotated[str, Field(max_length=60)] = ""
    colour: Annotated[str, Field(max_length=60)] = ""
    diameter_mm: Annotated[float, Field(gt=0, le=4)] = 0.8
    left_mm: Annotated[float, Field(ge=0, le=10_000_000)] = 50_000.0
    price_m: Annotated[float, Field(ge=0, le=1000)] = 0.0
    waxed: bool = True


class Slack(Frozen):
    """Thread used beyond the path of the needles, as a share of it; from how many jobs it was learned, and how far the
    next job's strays, as a share of all that is used.
    """

    value: Annotated[float, Field(ge=-0.5, le=1)] = DEFAULT_SLACK
    jobs: Annotated[int, Field(ge=0)] = 0
    spread: Annotated[float, Field(ge=0, le=1)] = NEXT_JOB_SPREAD


class Own(Frozen):
    """What one seam has of its own: another stitch, another thread."""

    seam: Annotated[str, Field(max_length=200)]
    stitch: Annotated[str, Field(max_length=60)] = ""
    thread: Thread | None = None


class ThreadChoices(Frozen):
    """Thread, needles, stitches and how ends are made. `reach_mm` is how much a needle can draw at arm's length; `sure` how
    likely what is cut should be enough, `stack_spread` and `pitch_spread` how far those stray, as shares.
    """

    thread: Thread = Thread()
    stitch: Annotated[str, Field(max_length=60)] = "saddle"
    butt_stitch: Annotated[str, Field(max_length=60)] = "butt"
    needle_mm: Annotated[float, Field(gt=0, le=300)] = 50.0
    needle_thick_mm: Annotated[float, Field(gt=0, le=6)] = 1.0
    doubled: bool = False
    start: Literal["first-hole", "third-hole"] = "first-hole"
    edge_loops: Annotated[int, Field(ge=0, le=4)] = 0
    back_stitches: Annotated[int, Field(ge=0, le=10)] = 2
    finish: Finish = "back-stitches"
    ends: Literal["trimmed", "melted", "glued"] = "trimmed"
    join: Literal["back-stitches", "overlap"] = "back-stitches"
    first_needle: Literal["left", "right"] = "left"
    second_needle: Literal["below", "above"] = "below"
    compression: Annotated[float, Field(ge=0, le=0.5)] = 0.05
    reach_mm: Annotated[float, Field(ge=200, le=MOST_REACH_MM)] = 1800.0
    slack: Slack = Slack()
    stack_spread: Annotated[float, Field(ge=0, le=0.5)] = 0.04
    pitch_spread: Annotated[float, Field(ge=0, le=0.5)] = 0.01
    sure: Annotated[float, Field(ge=0.5, le=0.999)] = 0.9
    temporary: bool = False
    own: Annotated[tuple[Own, ...], Field(max_length=30)] = ()

    def of(self, seam: str) -> "ThreadChoices":
        """The choices for one seam, with what it has of its own."""
        own = next((o for o in self.own if o.seam == base(seam)), None)
        if own is None:
            return self
        stitch = {"stitch": own.stitch, "butt_stitch": own.stitch} if own.stitch else {}
        return self.model_copy(update=stitch | ({"thread": own.thread} if own.thread else {}))
