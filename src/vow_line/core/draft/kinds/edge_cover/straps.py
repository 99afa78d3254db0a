"""What closes an edge cover: straps over the tool's back, or a flap."""

from typing import Annotated, Literal

from pydantic import Field

from ....frozen import Frozen

ALIKE_MM = 1.0  # straps that differ by less are cut alike
Size = Annotated[float, Field(gt=0, le=200)]


class Straps(Frozen):
    """Straps riveted to the back that go over the tool and close on the front with a stud; or a flap of the back's own, as wide
    as is said, with so many studs.
    """

    form: Literal["straps", "flap"] = "straps"
    count: Annotated[int, Field(ge=1, le=6)] = 1
    width_mm: Size = 20.0
