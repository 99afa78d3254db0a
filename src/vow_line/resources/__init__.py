"""What ships with the program: its type, and the demo jobs."""

from functools import cache
from pathlib import Path

FONTS = Path(__file__).parent / "fonts"
FIRST_FACES = ("SourceSans3_600SemiBold.ttf", "SourceSans3_700Bold.ttf")
"""What the first paint is set in."""


@cache
def load_fonts(*, only_first: bool = False) -> None:
    """Make the program's own type known to Qt, or only what the first paint is set in. A Qt application must exist."""
    from PySide6.QtGui import QFontDatabase

    for face in sorted(FONTS.glob("*.ttf")):
        if (face.name in FIRST_FACES) == only_first:
            QFontDatabase.addApplicationFont(str(face))
    if not only_first:
        load_fonts(only_first=True)
