"""What the maker decides about holes."""

from typing import Annotated, Literal

from pydantic import Field

from ..frozen import Frozen


class StitchChoices(Frozen):
    """Pitch and tool. An iron keeps its pitch; a wheel or an awl lets it fit the run. `teeth` are the prongs at hand."""

    pitch_mm: Annotated[float, Field(ge=1, le=20)] = 4.0
    tool: Literal["iron", "wheel", "awl"] = "iron"
    teeth: Annotated[tuple[Annotated[int, Field(ge=1, le=20)], ...], Field(min_length=1, max_length=8)] = (6, 2, 1)
    start_in_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    end_in_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    remainder: Literal["end", "spread"] = "end"
