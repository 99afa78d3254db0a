"""So many of one thing: alike, or left and right in turn, every second one cut turned over."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from ..frozen import Frozen
from ..memory import remembered
from .drafted import Draft


class Makes(Frozen):
    """How many are made, and whether they are alike or in pairs."""

    count: Annotated[int, Field(ge=1, le=60)] = 1
    each: Literal["alike", "in-pairs"] = "alike"


@remembered("stage")
def repeated(draft: Draft, makes: Makes) -> Draft:
    """The draft with so many times as many of every piece; one is drafted, stitched and sewn as before."""
    if makes.count == 1:
        return draft
    in_pairs = makes.each == "in-pairs"
    pieces = (replace(p, count=p.count * makes.count, in_pairs=in_pairs) for p in draft.pieces)
    return replace(draft, assembly=draft.assembly.with_more(pieces), makes=makes.count)
