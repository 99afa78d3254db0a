"""Outlines that were drawn round a thing."""

from typing import Annotated, Literal

from pydantic import Field

Coordinate = Annotated[float, Field(ge=-5000, le=5000)]
Point = tuple[Coordinate, Coordinate]
Outline = Annotated[tuple[Point, ...], Field(min_length=3, max_length=4000)]

DrawnWith = Literal["nothing", "scribe", "pencil", "ball pen", "marker"]

DREW_MM: dict[DrawnWith, float] = {"nothing": 0.0, "scribe": 0.0, "pencil": 0.5, "ball pen": 0.5, "marker": 1.0}
"""How far outside the thing the middle of the line runs that was drawn round it (common practice)."""
