"""What ships with the program: type, icons, help, demo jobs."""

from functools import cache
from importlib.resources import as_file, files


@cache
def load_fonts() -> None:
    """Make the program's own type known to Qt. A Qt application must exist."""
    from PySide6.QtGui import QFontDatabase

    for face in files(__name__).joinpath("fonts").iterdir():
        if face.name.endswith(".ttf"):
            with as_file(face) as path:
                QFontDatabase.addApplicationFont(str(path))
