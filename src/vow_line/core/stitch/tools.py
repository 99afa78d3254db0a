"""The tools that make holes, as a workshop keeps them."""

from typing import Annotated, Any, Literal

from pydantic import Field

from ..frozen import Frozen
from ..quantity import FRENCH_INCH_MM

Tooth = Literal["flat", "diamond", "round"]


class HoleTool(Frozen):
    """A tool: an iron has a pitch of its own and comes with so many `teeth`; the others take any pitch."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    tool: Literal["iron", "wheel", "awl", "drill"] = "iron"
    tooth: Tooth = "diamond"
    pitch_mm: Annotated[float, Field(ge=1, le=20)] | None = None
    teeth: Annotated[tuple[Annotated[int, Field(ge=1, le=20)], ...], Field(min_length=1, max_length=8)] = (1,)
    hole_mm: Annotated[float, Field(gt=0, le=6)] = 1.2


def of_choices(choices: Any, name: str) -> HoleTool:
    """The tool that these choices for holes are made with, under a name."""
    return HoleTool(
        name=name, tool=choices.tool, tooth=choices.tooth, teeth=choices.teeth, hole_mm=choices.hole_mm,
        pitch_mm=choices.pitch_mm if choices.tool == "iron" else None,
    )  # fmt: skip


WHEEL = HoleTool(name="wheel, awl", tool="wheel", tooth="diamond", hole_mm=1.2)
USUAL = (
    HoleTool(name="chisels 4 mm", pitch_mm=4.0, teeth=(6, 2, 1), hole_mm=1.4),
    HoleTool(name="irons, no 8", pitch_mm=FRENCH_INCH_MM / 8, teeth=(8, 4, 2), tooth="flat", hole_mm=1.0),
    HoleTool(name="chisels 3 mm", pitch_mm=3.0, teeth=(10, 5, 2), hole_mm=1.0),
    HoleTool(name="flat prongs 1/8", pitch_mm=6.35, teeth=(4, 1), tooth="flat", hole_mm=1.6),
    WHEEL,
    HoleTool(name="diamond awl", tool="awl", tooth="diamond", hole_mm=1.2),
    HoleTool(name="round awl", tool="awl", tooth="round", hole_mm=1.0),
    HoleTool(name="drill 1.5 mm", tool="drill", tooth="round", hole_mm=1.5),
)
"""What a workshop begins with (common practice); no 8 is of the old French inch."""
