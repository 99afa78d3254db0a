"""Open formats, one module each. A format that exports has `SUFFIX` and `write(plan, path)`; it is found by being here.
One that does not suit every job says whether it is `wanted(plan)`.
"""

from collections.abc import Callable, Collection
from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules
from typing import NamedTuple

from ..core.plan import Plan
from ..core.texts import Said


class Format(NamedTuple):
    """An export format."""

    name: Said
    suffix: str
    write: Callable[[Plan, Path], None]


def formats(plan: Plan) -> tuple[Format, ...]:
    """The export formats that have something to say of this plan; a module is imported only when it is asked for here."""
    modules = []
    for entry in iter_modules(__path__):
        module = import_module(f"{__name__}.{entry.name}")
        if hasattr(module, "SUFFIX") and getattr(module, "wanted", _always)(plan):
            modules.append(Format(module.NAME, module.SUFFIX, module.write))
    return tuple(modules)


def _always(_: Plan) -> bool:
    return True


def export(
    plan: Plan, folder: Path, name: str, progress: Callable[[float, str], bool] = lambda *_: True,
    only: Collection[str] | None = None,
) -> tuple[Path, ...]:  # fmt: skip
    """Write every format of the plan, or `only` those of some suffixes, into the folder, until `progress`, told how far it is
    and with what, says to stop. Raises FailedWrite.
    """
    written: list[Path] = []
    every = [form for form in formats(plan) if only is None or form.suffix in only]
    for k, form in enumerate(every):
        if not progress(k / len(every), form.name.write(plan.job.units)):
            break
        path = folder / f"{name}{form.suffix}"
        form.write(plan, path)
        written.append(path)
    return tuple(written)
