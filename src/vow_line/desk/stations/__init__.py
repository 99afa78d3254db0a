"""One module per station: what its board shows, what its reckoning lists. Each is found by being here."""

from importlib import import_module
from pkgutil import iter_modules

from ...core.finding import Station
from .station import Showing, View

__all__ = ["SHOWINGS", "Showing", "View"]

SHOWINGS: dict[Station, Showing] = {}
for _entry in iter_modules(__path__):
    _module = import_module(f"{__name__}.{_entry.name}")
    if hasattr(_module, "SHOWING"):
        SHOWINGS[_module.SHOWING.station] = _module.SHOWING
