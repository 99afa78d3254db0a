"""What the maker decides about holes."""

from typing import Annotated, Literal

from pydantic import Field

from ..frozen import Frozen
from .tools import Tooth


class StitchChoices(Frozen):
    """Pitch and tool. An iron keeps its pitch; a wheel, an awl or a drill lets it fit the run. `teeth` are the prongs at hand,
    `error_mm` is how far one of them is off its pitch at each hole. `ends` outside: the first and last hole lie half a pitch
    beyond a layer that ends, where another runs on. `round_mm` is to what radius corners of the seam are rounded, 0 for a hole
    on each; `mark_every` says after how many holes a mark keeps partner edges in step, 0 for none.
    """

    pitch_mm: Annotated[float, Field(ge=1, le=20)] = 4.0
    tool: Literal["iron", "wheel", "awl", "drill"] = "iron"
    tool_name: Annotated[str, Field(max_length=200)] = ""
    tooth: Tooth = "diamond"
    teeth: Annotated[tuple[Annotated[int, Field(ge=1, le=20)], ...], Field(min_length=1, max_length=8)] = (6, 2, 1)
    hole_mm: Annotated[float, Field(gt=0, le=6)] = 1.2
    error_mm: Annotated[float, Field(ge=0, le=1)] = 0.01
    start_in_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    end_in_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    ends: Literal["in", "outside"] = "in"
    remainder: Literal["end", "spread"] = "end"
    round_mm: Annotated[float, Field(ge=0, le=60)] = 0.0
    through: Literal["one face", "both faces"] = "one face"
    mark_every: Annotated[int, Field(ge=0, le=100)] = 10
