"""Which libraries each room uses: no import contract can list what is allowed."""

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

SOURCE = Path(__file__).parent.parent / "src" / "vow_line"
REACHING_OUT = {
    "os",
    "pathlib",
    "sqlite3",
    "socket",
    "subprocess",
    "threading",
    "multiprocessing",
    "urllib",
    "random",
    "time",
}

LIBRARIES = {
    "core": {"numpy", "scipy", "shapely", "pydantic"},
    "resources": {"PySide6"},
    "instruments": {"numpy", "scipy", "shapely", "cv2", "serial"},
    "files": {"numpy", "scipy", "shapely", "pydantic", "ezdxf", "icalendar", "svgelements", "cv2", "PIL", "PySide6"},
    "workshop": set(),
    "desk": {"numpy", "shapely", "PySide6", "shiboken6"},
    "app": {"pydantic"},
}  # fmt: skip
WITHOUT_WIDGETS = ("desk/session",)


def _modules(room: str) -> list[Path]:
    return sorted((SOURCE / room).rglob("*.py")) or [SOURCE / f"{room}.py"]


def _imports(path: Path) -> Iterator[str]:
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.level == 0 and node.module:
            yield node.module


def test_every_room_is_listed() -> None:
    rooms = {p.stem for p in SOURCE.iterdir() if p.suffix == ".py" or (p / "__init__.py").exists()} - {"__init__"}
    assert rooms == set(LIBRARIES)


@pytest.mark.parametrize("room", LIBRARIES)
def test_a_room_uses_the_libraries_it_may_and_all_of_them(room: str) -> None:
    used = {name.partition(".")[0] for path in _modules(room) for name in _imports(path)}
    assert used - sys.stdlib_module_names == LIBRARIES[room]


def test_the_core_reaches_for_no_file_clock_or_chance() -> None:
    reached = {(path.name, name) for path in _modules("core") for name in _imports(path) if name in REACHING_OUT}
    assert not reached


@pytest.mark.parametrize("room", WITHOUT_WIDGETS)
def test_the_session_knows_no_widget(room: str) -> None:
    used = {name for path in (SOURCE / room).glob("*.py") for name in _imports(path) if name.startswith("PySide6")}
    assert used == {"PySide6.QtCore"}
