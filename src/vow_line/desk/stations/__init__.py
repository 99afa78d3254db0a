"""One module per station: what its board shows, what its reckoning lists. Each is found by being here."""

from importlib import import_module
from pkgutil import iter_modules

from ...core.finding import Station
from .station import Bench, View

__all__ = ["BENCHES", "Bench", "View"]

BENCHES: dict[Station, Bench] = {}
for _entry in iter_modules(__path__):
    _module = import_module(f"{__name__}.{_entry.name}")
    if hasattr(_module, "BENCH"):
        BENCHES[_module.BENCH.station] = _module.BENCH
