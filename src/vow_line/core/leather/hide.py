"""A piece of leather as the maker states it."""

from typing import Annotated, Literal

from pydantic import Field, field_validator

from ..frozen import Frozen
from ..texts import tell

Coordinate = Annotated[float, Field(ge=-10_000, le=10_000)]
Ring = Annotated[tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=3, max_length=2000)]


class Hide(Frozen):
    """Outline in mm, right and down, grain side up; `best_rad` is the way it stretches least, the line of the back; `outside`
    which side of it is shown.
    """

    name: str = "veg-tan shoulder"
    tannage: Literal["veg", "oil", "chrome"] = "veg"
    thickness_mm: Annotated[float, Field(gt=0, le=15)] = 3.2
    outline: Ring = ((0.0, 0.0), (420.0, 0.0), (420.0, 300.0), (0.0, 300.0))
    flaws: Annotated[tuple[Ring, ...], Field(max_length=200)] = ()
    best_rad: Annotated[float, Field(ge=-7, le=7)] = 0.0
    outside: Literal["grain", "flesh"] = "grain"
    price_dm2: Annotated[float, Field(ge=0, le=1000)] = 0.0

    def sized(self, long_mm: float, wide_mm: float) -> "Hide":
        """The same shape, flaws and all, drawn out to this length and width."""
        xs, ys = [x for x, _ in self.outline], [y for _, y in self.outline]
        along, across = long_mm / (max(xs) - min(xs)), wide_mm / (max(ys) - min(ys))

        def drawn(ring: Ring) -> Ring:
            return tuple((min(xs) + (x - min(xs)) * along, min(ys) + (y - min(ys)) * across) for x, y in ring)

        return Hide.model_validate(
            {**dict(self), "outline": drawn(self.outline), "flaws": tuple(drawn(flaw) for flaw in self.flaws)}
        )

    @field_validator("outline")
    @classmethod
    def _has_area(cls, ring: Ring) -> Ring:
        area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, (*ring[1:], ring[0]), strict=True)) / 2
        if abs(area) < 100:
            raise ValueError(tell("An outline of leather must enclose at least 1 square centimetre."))
        return ring
