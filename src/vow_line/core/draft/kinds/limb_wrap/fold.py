"""A top that is folded over."""

from typing import Annotated

from pydantic import Field

from ....frozen import Frozen


class FoldOver(Frozen):
    """How far down what is folded over the top lies on the outside."""

    deep_mm: Annotated[float, Field(ge=10, le=150)] = 40.0
