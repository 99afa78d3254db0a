"""The things that can be measured. Each module here holds one subclass of `Thing`; it is found by being here."""

from functools import reduce
from importlib import import_module
from operator import or_
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Annotated

from pydantic import Field

from ..thing import Thing

for _module in iter_modules(__path__):
    import_module(f"{__name__}.{_module.name}")


def _measured(of: type[Thing]) -> list[type[Thing]]:
    """The things that are of a sort: those that no other is of."""
    sorts = of.__subclasses__()
    return [t for sort in sorts for t in _measured(sort)] if sorts else [of]


THINGS: tuple[type[Thing], ...] = tuple(_measured(Thing))  # type: ignore[type-abstract]

if TYPE_CHECKING:
    AnyThing = Thing
else:
    AnyThing = Annotated[reduce(or_, THINGS), Field(discriminator="body")]
