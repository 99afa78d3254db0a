"""What ships with the program: type, icons, help, demo jobs."""

from functools import cache
from importlib.resources import as_file, files

FIRST_FACES = ("SourceSans3_600SemiBold.ttf", "SourceSans3_700Bold.ttf")
"""What the first paint is set in."""


@cache
def load_fonts(*, only_first: bool = False) -> None:
    """Make the program's own type known to Qt, or only what the first paint is set in. A Qt application must exist."""
    from PySide6.QtGui import QFontDatabase

    for face in files(__name__).joinpath("fonts").iterdir():
        if face.name in FIRST_FACES if only_first else face.name.endswith(".ttf") and face.name not in FIRST_FACES:
            with as_file(face) as path:
                QFontDatabase.addApplicationFont(str(path))
    if not only_first:
        load_fonts(only_first=True)
