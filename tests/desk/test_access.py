"""Every hand can use it: keys, names, contrast, and a first paint that waits for nothing."""

import os
import re
import subprocess
import sys
from itertools import product
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible, QColor, QGuiApplication
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QSlider,
    QWidget,
)

import vow_line
from tests.desk.conftest import Desk
from vow_line.desk.actions import switches
from vow_line.desk.line import LINE
from vow_line.desk.look.ink import DAY, EVENING, LEAST_PX, Ink
from vow_line.desk.start import application

ALT = Qt.KeyboardModifier.AltModifier


def _luminance(colour: str) -> float:
    def linear(c: float) -> float:
        return c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4

    q = QColor(colour)
    return 0.2126 * linear(q.redF()) + 0.7152 * linear(q.greenF()) + 0.0722 * linear(q.blueF())


def contrast(a: str, b: str) -> float:
    """Contrast ratio as WCAG 2.2 defines it."""
    high, low = sorted((_luminance(a), _luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("ink", [DAY, EVENING], ids=lambda i: i.name)
def test_text_keeps_its_contrast_on_every_ground(ink: Ink) -> None:
    for text, ground in product(("ink", "quiet", "madder", "woad", "weld", "verdigris"), ("board", "slip", "ground")):
        assert contrast(getattr(ink, text), getattr(ink, ground)) >= 4.5, (text, ground)
    for leather in ("grain", "flesh"):
        assert contrast(ink.ink, getattr(ink, leather)) >= 4.5
    for mark in ("woad", "madder", "weld"):
        assert contrast(getattr(ink, mark), ink.grain) >= 3.0 or mark == "weld", mark


def test_every_station_has_a_key_and_a_name(desk: Desk) -> None:
    desk.open("spar-knife")
    keys = [*range(Qt.Key.Key_1, Qt.Key.Key_9 + 1), Qt.Key.Key_0, Qt.Key.Key_Minus]
    for key, (station, _) in zip(keys, LINE, strict=True):
        desk.window.window_.activateWindow()
        desk.key(Qt.Key(key), ALT)
        assert desk.window.session.station == station
    desk.key(Qt.Key.Key_Left, ALT)
    assert desk.window.session.station == "edge"


def test_every_widget_that_takes_the_focus_has_a_name(desk: Desk) -> None:
    for job in ("laying-knife", "spar-knife"):
        desk.open(job)
        for station, _ in LINE:
            desk.window.session.go(station)
            QApplication.processEvents()
            for kind in (QAbstractButton, QAbstractItemView, QLineEdit, QSlider, QComboBox):
                for widget in desk.window.findChildren(kind):
                    if widget.isVisible() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
                        spoken = QAccessible.queryAccessibleInterface(widget).text(QAccessible.Text.Name)
                        assert spoken.strip(), (station, widget)


def test_tab_goes_through_the_readings_in_order(desk: Desk) -> None:
    desk.open("hedging-knife")
    desk.station("measure")
    desk.window.pages.station.board.setFocus()
    desk.key(Qt.Key.Key_B)
    visited: list[QWidget | None] = []
    for _ in range(5):
        visited.append(QApplication.focusWidget())
        desk.key(Qt.Key.Key_Tab)
    paths = {f: p for p, f in desk.window.pages.station.board.fields.items()}
    assert [paths[w] for w in visited][:4] == [  # type: ignore[index]
        "thing.length.first", "thing.length.second", "thing.stations.0.width.first", "thing.stations.0.width.second",
    ]  # fmt: skip


def test_the_evening_bench_repaints_everything(desk: Desk) -> None:
    def ground() -> int:
        whole = desk.picture().scaled(1, 1, mode=Qt.TransformationMode.SmoothTransformation)
        return whole.pixelColor(0, 0).lightness()

    desk.open("laying-knife")
    assert ground() > 160
    switches.ink(desk.window.session)
    assert ground() < 90
    assert desk.window.session.workshop.preferences().ink == "evening"


def test_nothing_is_cut_before_the_vow(desk: Desk) -> None:
    desk.open("laying-knife")
    desk.station("cut")
    slip = desk.window.pages.station.slip
    slip.setFocus()
    slip.setCurrentIndex(slip.model().index(1, 0))
    desk.key(Qt.Key.Key_Space)
    assert "not vowed yet" in desk.window.notice.text()
    assert not desk.window.session.job.work.done  # type: ignore[union-attr]


def test_the_first_paint_loads_nothing_it_does_not_need() -> None:
    told = """
import sys
from vow_line.desk.start import Places, application, make_window
from pathlib import Path
import tempfile
app = application()
home = Path(tempfile.mkdtemp())
window = make_window(Places(home, home / "state"))
window.show()
window.grab()
late = {"scipy", "cv2", "ezdxf", "icalendar", "numpy", "shapely", "pydantic"} & set(sys.modules)
late |= {name for name, m in sys.modules.items() if name.startswith("vow_line") and {"Qt", "QEvent"} & vars(m).keys()}
sys.exit(f"loaded too early: {late}" if late else 0)  # Qt's own names take as long as a fifth of a window
"""
    done = subprocess.run([sys.executable, "-c", told], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr


def test_everything_can_be_larger_as_far_as_the_screen_has_room(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    session = desk.window.session
    screen = QGuiApplication.primaryScreen()
    whole = screen.availableSize() * screen.devicePixelRatio()
    most = min(whole.width() / LEAST_PX[0], whole.height() / LEAST_PX[1])
    seen = []
    for _ in range(3):
        desk.window.actions_["larger"].trigger()
        seen.append(session.preferences.larger)
    fits = [k for k in ("125", "150") if int(k) / 100 <= most]
    assert seen == [*fits, "100", *fits, "100", "100"][:3]
    assert desk.window.session.workshop.preferences().larger == seen[-1], "kept for the next start"
    monkeypatch.delenv("QT_SCALE_FACTOR", raising=False)
    application("150")
    assert os.environ["QT_SCALE_FACTOR"] == "1.5"
    application("125")
    assert os.environ["QT_SCALE_FACTOR"] == "1.5", "what the desktop says stands"


def test_no_window_is_smaller_than_its_boards_need(desk: Desk) -> None:
    desk.window.window_.resize(300, 200)
    assert desk.window.window_.size().toTuple() == LEAST_PX


def test_no_type_is_smaller_than_can_be_read(desk: Desk) -> None:
    """Every size that the desk asks its type for, and the font of everything seen at every station."""
    source = Path(vow_line.__file__).parent / "desk"
    asked = [int(px) for file in source.rglob("*.py") for px in re.findall(r"\btype_\((\d+)", file.read_text())]
    assert len(asked) > 60
    assert min(asked) >= 13
    desk.open("laying-knife")
    for station, _ in LINE:
        desk.station(station)
        for widget in desk.window.findChildren(QWidget):
            if widget.isVisible() and isinstance(widget, QLabel | QLineEdit | QAbstractButton | QComboBox):
                assert widget.font().pixelSize() >= 13, (station, widget.objectName())
