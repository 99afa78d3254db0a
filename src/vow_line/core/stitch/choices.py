"""What the maker decides about holes."""

from typing import Annotated, Any, Literal

from pydantic import Field

from ..draft.ids import base
from ..frozen import Frozen
from .tools import HoleTool, Tooth


class OwnHoles(Frozen):
    """What one seam has of its own: where its first and last hole lie, where the ends are, a tool. What is None is as for the
    other seams.
    """

    seam: Annotated[str, Field(max_length=200)]
    start_in_mm: Annotated[float, Field(ge=0, le=50)] | None = None
    end_in_mm: Annotated[float, Field(ge=0, le=50)] | None = None
    ends: Literal["in", "outside"] | None = None
    tool: HoleTool | None = None


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
    through: Literal["one-face", "both-faces"] = "one-face"
    mark_every: Annotated[int, Field(ge=0, le=100)] = 10
    own: Annotated[tuple[OwnHoles, ...], Field(max_length=30)] = ()

    def of(self, seam: str) -> "StitchChoices":
        """The choices for one seam, with what it has of its own."""
        own = next((o for o in self.own if o.seam == base(seam)), None)
        return self.plain if own is None else self._with(own)

    @property
    def plain(self) -> "StitchChoices":
        """The choices for a seam that has nothing of its own."""
        return self.model_copy(update={"own": ()}) if self.own else self

    def _with(self, own: OwnHoles) -> "StitchChoices":
        values = {k: v for k in ("start_in_mm", "end_in_mm", "ends") if (v := getattr(own, k)) is not None}
        if own.tool is not None:
            values |= of_tool(own.tool)
        return self.model_copy(update={**values, "own": ()})


def of_tool(tool: HoleTool) -> dict[str, Any]:
    """What a tool decides of the choices; one without a pitch of its own leaves the pitch."""
    values = {
        "tool": tool.tool,
        "tool_name": tool.name,
        "tooth": tool.tooth,
        "teeth": tool.teeth,
        "hole_mm": tool.hole_mm,
    }
    return values if tool.pitch_mm is None else {**values, "pitch_mm": tool.pitch_mm}
