"""Two sets of ink, day bench and evening bench, and the type."""

from dataclasses import dataclass, fields
from functools import cache

from PySide6.QtGui import QColor, QFont, QPalette

FAMILY = "Source Sans 3"
LEAST_PX = 1024, 680  # the smallest window in which everything has its place


@dataclass(frozen=True)
class Ink:
    """The colours of one bench. Text keeps 4.5:1 on its ground, marks 3:1."""

    name: str
    ground: str
    board: str
    slip: str
    ink: str
    quiet: str
    rules: str
    madder: str
    woad: str
    weld: str
    verdigris: str
    grain: str
    flesh: str
    steel: str
    glow: str

    def colour(self, name: str, alpha: int = 255) -> QColor:
        """A colour by its name."""
        return _colour(getattr(self, name), alpha)


@cache
def _colour(name: str, alpha: int) -> QColor:
    colour = QColor(name)
    colour.setAlpha(alpha)
    return colour


DAY = Ink(
    "day", "#EFEBE2", "#FBF9F4", "#FFFDF8", "#1F2A33", "#5A666D", "#CFC7B8", "#A8402D", "#2C5F8A", "#896106", "#2F7564",
    "#D9C3A5", "#EADFCB", "#5F6B73", "#EADFCB",
)  # fmt: skip
EVENING = Ink(
    "evening", "#1A1D1F", "#22272A", "#2A3033", "#EDE8DD", "#A7AFB2", "#3C4448", "#E4826C", "#86B6DE", "#DDB459",
    "#7CC3AE", "#5C482F", "#4A3E2E", "#A9B2B6", "#4A3B28",
)  # fmt: skip
INKS = {ink.name: ink for ink in (DAY, EVENING)}


@cache
def type_(px: int, weight: QFont.Weight = QFont.Weight.Normal, italic: bool = False) -> QFont:
    """The program's type at a size in pixels."""
    font = QFont(FAMILY)
    font.setPixelSize(px)
    font.setWeight(weight)
    font.setItalic(italic)
    return font


BOLD, SEMI = QFont.Weight.Bold, QFont.Weight.DemiBold


def palette(ink: Ink) -> QPalette:
    """The bench's colours for every ordinary widget."""
    made = QPalette()
    role = QPalette.ColorRole
    for which, name in (
        (role.Window, "ground"), (role.Base, "slip"), (role.AlternateBase, "board"), (role.Button, "slip"),
        (role.WindowText, "ink"), (role.Text, "ink"), (role.ButtonText, "ink"), (role.ToolTipText, "ink"),
        (role.ToolTipBase, "slip"), (role.PlaceholderText, "quiet"), (role.Highlight, "woad"), (role.Link, "woad"),
        (role.HighlightedText, "slip"), (role.Mid, "rules"), (role.Dark, "rules"), (role.Light, "slip"),
        (role.Midlight, "rules"), (role.Shadow, "rules"), (role.Accent, "woad"),
    ):  # fmt: skip
        made.setColor(which, ink.colour(name))
    for which in (role.WindowText, role.Text, role.ButtonText):
        made.setColor(QPalette.ColorGroup.Disabled, which, ink.colour("quiet"))
    return made


def style(ink: Ink) -> str:
    """The few rules a palette cannot say."""
    sheet = """
    QFrame#header { background: %(board)s; border-bottom: 1px solid %(rules)s; }
    QLabel#state { color: %(quiet)s; }
    QLabel#notice { padding: 9px 26px; background: %(slip)s; border-bottom: 1px solid %(rules)s; }
    QLabel#notice[wrong="true"] { color: %(madder)s; font-weight: 600; }
    QMainWindow, QDialog { background: %(ground)s; }
    QMenuBar { background: %(board)s; padding: 1px 14px; }
    QMenuBar::item { padding: 4px 10px; color: %(quiet)s; background: transparent; }
    QMenuBar::item:selected { color: %(ink)s; background: %(glow)s; border-radius: 3px; }
    QMenu { background: %(slip)s; border: 1px solid %(rules)s; padding: 4px; }
    QMenu::item { padding: 5px 26px 5px 18px; border-radius: 3px; }
    QMenu::item:selected { background: %(glow)s; color: %(ink)s; }
    QMenu::item:disabled { color: %(quiet)s; }
    QMenu::separator { height: 1px; background: %(rules)s; margin: 4px 8px; }
    QToolTip { background: %(slip)s; color: %(ink)s; border: 1px solid %(rules)s; padding: 4px; }
    QPushButton { background: %(slip)s; color: %(ink)s; border: 1px solid %(rules)s; border-radius: 4px; padding: 6px 14px; }
    QPushButton#facts { background: %(board)s; border: none; color: %(quiet)s; padding: 2px 8px; text-decoration: underline; }
    QPushButton#facts[asking="true"] { color: %(ink)s; text-decoration: none; background: %(glow)s; border-radius: 4px; }
    QPushButton:focus { border: 2px solid %(woad)s; padding: 5px 13px; }
    QPushButton:hover { background: %(glow)s; }
    QPushButton:disabled { color: %(quiet)s; background: %(ground)s; }
    QPushButton#vow { background: %(madder)s; color: %(board)s; font-weight: 600; border: 1px solid %(madder)s; }
    QPushButton#vow:disabled { background: %(ground)s; color: %(quiet)s; border: 1px solid %(rules)s; }
    QPushButton#vow:focus { border: 2px solid %(ink)s; }
    QLineEdit { background: %(slip)s; border: 1px solid %(rules)s; border-radius: 4px; padding: 5px 8px; }
    QLineEdit:focus { border: 2px solid %(woad)s; padding: 4px 7px; }
    QLineEdit#callout { background: transparent; border: 1px solid transparent; padding: 0 5px; }
    QLineEdit#callout:hover { border: 1px solid %(rules)s; background: %(slip)s; }
    QLineEdit#callout:focus { border: 2px solid %(woad)s; padding: 0 4px; background: %(slip)s; }
    QLineEdit#callout[wrong="true"] { border: 2px solid %(madder)s; padding: 0 4px; background: %(slip)s; }
    QLineEdit#callout:read-only { border: 1px solid transparent; background: transparent; }
    QLineEdit#callout:read-only:focus { border: 1px dashed %(quiet)s; }
    QLabel#wrong { background: %(slip)s; color: %(madder)s; border: 1px solid %(madder)s; border-radius: 4px;
        padding: 5px 8px; }
    QLabel#says[wrong="true"] { color: %(madder)s; font-weight: 600; }
    QListWidget#pages { background: %(board)s; border: 1px solid %(rules)s; border-radius: 4px; }
    QListWidget#pages::item:selected { background: %(glow)s; color: %(ink)s; border-radius: 4px; }
    QListView { background: transparent; border: none; outline: none; }
    QSlider::groove:horizontal { border: 0; height: 4px; background: %(rules)s; border-radius: 2px; }
    QSlider::sub-page:horizontal { border: 0; height: 4px; background: %(woad)s; border-radius: 2px; }
    QSlider::handle:horizontal { width: 14px; margin: -7px 0; border-radius: 9px; background: %(slip)s;
        border: 2px solid %(woad)s; }
    QSlider::handle:horizontal:focus { background: %(woad)s; }
    Choice { background: transparent; border: 1px solid transparent; border-bottom: 1px dashed %(quiet)s;
        padding: 0 5px; color: %(ink)s; text-align: left; border-radius: 0; }
    Choice[word="true"] { padding: 0; text-align: center; }
    Choice:hover { background: %(slip)s; border: 1px solid %(rules)s; }
    Choice:focus { background: %(slip)s; border: 2px solid %(woad)s; padding: 0 4px; border-radius: 4px; }
    Choice[word="true"]:focus { padding: 0; }
    Choice:disabled { color: %(quiet)s; background: transparent; border: 1px solid transparent; }
    QComboBox { background: transparent; border: 1px solid transparent; border-bottom: 1px dashed %(quiet)s;
        padding: 0 5px; color: %(ink)s; }
    QPushButton#absent { background: transparent; border: 1px solid transparent; color: %(woad)s; padding: 2px 5px;
        text-decoration: underline; }
    QPushButton#absent:hover { background: %(glow)s; }
    QPushButton#absent:focus { border: 2px solid %(woad)s; padding: 1px 4px; }
    QPushButton#offer { background: transparent; border: 1px solid transparent; color: %(quiet)s; padding: 3px 8px; }
    QPushButton#offer:hover { background: %(glow)s; color: %(ink)s; }
    QPushButton#offer:focus { border: 2px solid %(woad)s; padding: 2px 7px; color: %(ink)s; }
    QPushButton#offer::menu-indicator { width: 0; }
    QPushButton#offer:disabled { background: transparent; }
    QFrame#card { background: %(slip)s; border: 1px solid %(rules)s; border-radius: 4px; }
    QComboBox:hover { background: %(slip)s; border: 1px solid %(rules)s; }
    QComboBox:focus { background: %(slip)s; border: 2px solid %(woad)s; padding: 0 4px; }
    QComboBox:disabled { border: 1px solid transparent; }
    QComboBox::drop-down { border: 0; width: 16px; }
    QComboBox QAbstractItemView { background: %(slip)s; color: %(ink)s; border: 1px solid %(rules)s;
        selection-background-color: %(glow)s; selection-color: %(ink)s; }
    QScrollBar:vertical { width: 9px; background: transparent; }
    QScrollBar::handle:vertical { background: %(rules)s; border-radius: 4px; min-height: 30px; }
    QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: none; height: 0; }
    """
    return sheet % {f.name: getattr(ink, f.name) for f in fields(Ink)}
