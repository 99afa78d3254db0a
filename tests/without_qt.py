"""A pytest plugin under which importing Qt fails: the core and the files must work without it."""

import sys
from importlib.abc import MetaPathFinder
from types import ModuleType


class _NoQt(MetaPathFinder):
    def find_spec(self, name: str, path: object = None, target: ModuleType | None = None) -> None:
        if name.partition(".")[0] in ("PySide6", "shiboken6"):
            raise ImportError(f"{name} is made unavailable for this run")


sys.meta_path.insert(0, _NoQt())
