"""What was measured and is kept in the workshop: a wearer, a tool, under a name, with the day it was kept."""

from datetime import date
from typing import Annotated

from pydantic import Field

from ..frozen import Frozen
from .readings import dated
from .thing import Thing
from .things import AnyThing


class KeptThing(Frozen):
    """A thing with its readings under the name it is kept by."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    on: date
    thing: AnyThing

    @classmethod
    def now(cls, name: str, thing: Thing, on: date) -> "KeptThing":
        """The thing kept on a day; readings of which no day was said are of that one."""
        return cls(name=name, on=on, thing=dated(thing, on))
