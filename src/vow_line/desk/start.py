"""Opening the desk."""

import os
import re
import socket
import sys
from contextlib import closing, suppress
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QSettings, QStandardPaths, QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication

from ..core.errors import VowLineError
from ..core.language import translated
from ..resources import load_fonts
from ..workshop import Preferences, Workshop
from .look.ink import INKS, type_
from .neighbour import hand_over, meeting_place
from .window.main_window import Filling, MainWindow


@dataclass(frozen=True)
class Places:
    """Where things are kept: the workshop's book, new jobs, unsaved work, the demo."""

    home: Path
    state: Path

    @classmethod
    def usual(cls) -> "Places":
        """The desktop's usual folders, or all below VOW_LINE_HOME when that is set."""
        home = os.environ.get("VOW_LINE_HOME")
        if home:
            return cls(Path(home), Path(home) / "state")
        kept, state = (
            QStandardPaths.writableLocation(place)
            for place in (
                QStandardPaths.StandardLocation.GenericDataLocation,
                QStandardPaths.StandardLocation.GenericStateLocation,
            )
        )
        return cls(Path(kept) / "vow-line", Path(state) / "vow-line")


def application(larger: str = "100") -> QApplication:
    """The Qt application, with the program's name, type and style; everything `larger` by so many percent, unless the desktop
    says how large itself.
    """
    if larger != "100":
        os.environ.setdefault("QT_SCALE_FACTOR", str(int(larger) / 100))
    QCoreApplication.setOrganizationName("vow-line")
    QCoreApplication.setApplicationName("vow-line")
    os.environ["QT_STYLE_OVERRIDE"] = "Fusion"  # setStyle would say the same, and take 20 ms to hand the style back
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    load_fonts(only_first=True)
    app.setFont(type_(15))
    return app


def lay_out_demo(places: Places) -> list[Path]:
    """The demo's job files, written once; what was done to them since is kept."""
    from ..files.job_json import JOB_SUFFIX, write_job
    from ..resources.demo import demo_jobs

    paths = []
    for name, job in demo_jobs().items():
        path = places.home / "demo" / f"{name}{JOB_SUFFIX}"
        if not path.exists():
            write_job(job, path)
        paths.append(path)
    return paths


def make_window(places: Places, *, demo: bool = False, alone: bool = False, says: str = "") -> MainWindow:
    """The window over the workshop in these places; the desk in it is made after the first paint. Where it is `alone` in its
    process it hears of all that goes wrong there, and is the one that a second start finds. It begins by what it `says`.
    """
    workshop = Workshop(places.home / "workshop.sqlite")
    place = meeting_place(places.home, places.state) if alone else None

    def fill(window: MainWindow) -> Filling:
        trouble = says
        load_fonts()
        from .session import Autosave, Session
        from .window.desk import Desk

        if demo:
            try:
                for path in reversed(lay_out_demo(places)):
                    workshop.remember(path)
            except VowLineError as error:
                trouble = str(error)
        desk = Desk(window, Session(workshop, Autosave(places.state / "unsaved"), places.home / "jobs"))
        if alone:
            desk.faults.watch()
            if place is not None:
                desk.open_door(place)
        if trouble or workshop.trouble:
            desk.session.say(trouble or workshop.trouble, wrong=True)
        return desk

    dark = QGuiApplication.palette().window().color().lightness() < 128
    unset = Preferences("evening" if dark else "day")
    return MainWindow(INKS[workshop.preferences(unset).ink], workshop.jobs(), fill)


def _refuse_no_display() -> None:
    """Raise VowLineError where no window can be opened, which Qt ends the program for."""
    platform = os.environ.get("QT_QPA_PLATFORM", "")
    if platform.partition(":")[0] not in ("", "xcb", "wayland"):
        return
    if os.environ.get("WAYLAND_DISPLAY") and platform != "xcb":
        return
    display = os.environ.get("DISPLAY", "")
    here = re.fullmatch(r"(?:unix)?:(\d+)(?:\.\d+)?", display)
    if display and (here is None or _listens(int(here[1]))):
        return
    from ..core.texts import tell

    raise VowLineError(
        tell("There is no display to open a window on."),
        mend=tell("Start it on a desktop, or give it a command: --help."),
    )


def _listens(number: int) -> bool:
    """Whether an X server of that number is on this machine."""
    for name in (f"\0/tmp/.X11-unix/X{number}", f"/tmp/.X11-unix/X{number}"):
        with closing(socket.socket(socket.AF_UNIX)) as line, suppress(OSError):
            line.settimeout(2.0)
            line.connect(name)
            return True
    return False


def open_desk(jobs: list[Path], *, demo: bool = False) -> int:
    """Open the window, paint it, then read what it shows; or where there is one already, have that come forward. Gives the
    exit status. Raises VowLineError where there is no display.
    """
    places = Places.usual()
    if demo:
        places = Places(places.home / "demo-shelf", places.state / "demo-shelf")
    place = meeting_place(places.home, places.state)
    found = hand_over(place, jobs[0] if jobs else None) if place is not None else None
    if found:
        return 0
    says = "" if found is None else translated("A window that is open already does not answer: this is another one.")
    _refuse_no_display()
    app = application(Workshop(places.home / "workshop.sqlite").preferences().larger)
    window = make_window(places, demo=demo, alone=True, says=says)
    geometry = QSettings().value("window/geometry")
    if geometry is not None:
        window.restoreGeometry(geometry)
    window.show()
    if jobs:

        def show_job() -> None:
            from .window.desk import Desk

            window.fill()
            assert isinstance(window.desk, Desk)
            window.desk.session.open_file(jobs[0])

        QTimer.singleShot(20, show_job)
    return app.exec()
