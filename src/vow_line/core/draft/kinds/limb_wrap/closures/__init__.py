"""The ways a limb wrap is closed. Each module here holds one subclass of `Closure`; it is found by being here."""

from functools import reduce
from importlib import import_module
from operator import or_
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Annotated

from pydantic import Field

from ..closure import Closure, Gapped, Lapped

for _module in iter_modules(__path__):
    import_module(f"{__name__}.{_module.name}")

CLOSURES: tuple[type[Closure], ...] = (*Gapped.__subclasses__(), *Lapped.__subclasses__())

if TYPE_CHECKING:
    AnyClosure = Closure
else:
    AnyClosure = Annotated[reduce(or_, CLOSURES), Field(discriminator="by")]
