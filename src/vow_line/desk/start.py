"""Opening the desk."""

import os
import sys
from dataclasses import dataclass
from pathlib import Path

import platformdirs
from PySide6.QtCore import QCoreApplication, QSettings, QTimer
from PySide6.QtWidgets import QApplication

from ..core.errors import VowLineError
from ..resources import load_fonts
from ..workshop import Workshop
from .autosave import Autosave
from .ink import type_
from .window import Window


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
        return cls(
            Path(platformdirs.user_data_dir("vow-line", appauthor=False)),
            Path(platformdirs.user_state_dir("vow-line", appauthor=False)),
        )


def application() -> QApplication:
    """The Qt application, with the program's name, type and style."""
    QCoreApplication.setOrganizationName("vow-line")
    QCoreApplication.setApplicationName("vow-line")
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setStyle("Fusion")
    load_fonts()
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


def make_window(places: Places) -> Window:
    """The window over the workshop in these places. Raises FailedWrite."""

    workshop = Workshop(places.home / "workshop.sqlite")
    return Window(workshop, Autosave(places.state / "unsaved"), places.home / "jobs")


def open_desk(jobs: list[Path], *, demo: bool = False) -> int:
    """Open the window, paint it, then read what it shows. Gives the exit status."""
    app = application()
    places = Places.usual()
    if demo:
        places = Places(places.home / "demo-shelf", places.state / "demo-state")
    try:
        window = make_window(places)
        if demo:
            for path in reversed(lay_out_demo(places)):
                window.workshop.remember(path)
            window.show_shelf()
    except VowLineError as error:
        sys.stderr.write(f"vow-line: {error}\n")
        return 2
    geometry = QSettings().value("window/geometry")
    if geometry is not None:
        window.restoreGeometry(geometry)
    window.show()
    if jobs:
        QTimer.singleShot(0, lambda: window.open(jobs[0]))
    return app.exec()
