"""The kinds of piece. Each module here holds one subclass of `KindOfPiece`; it is found by being here."""

from functools import reduce
from importlib import import_module
from operator import or_
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Annotated

from pydantic import Field

from ..kind import KindOfPiece

for _module in iter_modules(__path__):
    import_module(f"{__name__}.{_module.name}")

KINDS: tuple[type[KindOfPiece], ...] = tuple(KindOfPiece.__subclasses__())

if TYPE_CHECKING:
    AnyKind = KindOfPiece
elif len(KINDS) == 1:
    AnyKind = KINDS[0]
else:
    AnyKind = Annotated[reduce(or_, KINDS), Field(discriminator="kind")]
