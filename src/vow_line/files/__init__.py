"""Open formats, one module each. A format that exports has `SUFFIX` and `write(plan, path)`; it is found by being here."""

from collections.abc import Callable
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules
from typing import NamedTuple

from ..core.plan import Plan


class Format(NamedTuple):
    """An export format."""

    name: str
    suffix: str
    write: Callable[[Plan, Path], None]


def formats() -> tuple[Format, ...]:
    """The export formats shipped; each module is imported only when it is asked for here."""
    found = []
    for entry in iter_modules(__path__):
        module = import_module(f"{__name__}.{entry.name}")
        if hasattr(module, "SUFFIX"):
            found.append(Format(module.NAME, module.SUFFIX, module.write))
    return tuple(found)


def export(plan: Plan, folder: Path, name: str) -> tuple[Path, ...]:
    """Write every format of the plan into the folder. Raises FailedWrite."""
    written = []
    for form in formats():
        path = folder / f"{name}{form.suffix}"
        form.write(plan, path)
        written.append(path)
    return tuple(written)
