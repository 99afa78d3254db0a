"""Instruments at the desk: readings from a caliper, outlines from pictures and files, off the main thread."""

from collections.abc import Callable
from pathlib import Path
from threading import Event
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QRunnable, QSocketNotifier, QThreadPool, Signal
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QInputDialog, QLabel, QProgressBar, QPushButton, QWidget

from ..core import job as steps
from ..core.curve import Line
from ..core.errors import VowLineError
from ..core.measure.traced import DrawnWith, within_line
from ..instruments.caliper import Caliper, StandIn, ports
from .ink import type_

if TYPE_CHECKING:
    from ..files.outline import Drawn
    from .window import Window

PICTURES = "Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.bmp)"
DRAWINGS = "Drawings (*.svg *.dxf)"
STAND_IN = "the stand-in, to try it"
DREW: dict[str, DrawnWith] = {
    "the thing itself": "nothing", "a scribed line": "scribe", "a pencil line": "pencil", "a ball pen line": "ball-pen",
    "a marker line": "marker",
}  # fmt: skip


class CaliperLine(QObject):
    """Takes readings from a caliper to the callout that has the focus, and moves on to the next."""

    def __init__(self, window: "Window") -> None:
        super().__init__(window)
        self.window = window
        self.caliper: Caliper | None = None
        self.stand_in: StandIn | None = None
        self._waits: QSocketNotifier | None = None

    def choose(self) -> None:
        """Ask for the port, and listen to it; or stop listening."""
        if self.caliper is not None:
            self.stop("The caliper is let go.")
            return
        chosen, yes = QInputDialog.getItem(
            self.window, "Caliper", "The caliper is on", [*ports(), STAND_IN], editable=False
        )
        if yes:
            self.listen(chosen)

    def listen(self, port: str) -> None:
        """Listen to a port, or to the stand-in."""
        if port == STAND_IN:
            self.stand_in = StandIn()
            port = self.stand_in.port
        try:
            self.caliper = Caliper(port)
        except VowLineError as error:
            self.window.say(str(error), wrong=True)
            return
        self._waits = QSocketNotifier(self.caliper.fileno(), QSocketNotifier.Type.Read, self)
        self._waits.activated.connect(self._hear)
        self.window.say(f"Listening to the caliper on {port}: its readings go to the value that has the focus.")

    def stop(self, says: str, wrong: bool = False) -> None:
        """Listen no more."""
        if self._waits is not None:
            self._waits.setEnabled(False)
            self._waits.deleteLater()
            self._waits = None
        if self.caliper is not None:
            self.caliper.close()
            self.caliper = None
        self.window.say(says, wrong=wrong)

    def _hear(self) -> None:
        if self.caliper is None:
            return
        try:
            sent = self.caliper.heard()
        except VowLineError as error:
            self.stop(str(error), wrong=True)
            return
        for one in sent:
            if one.mm is None:
                self.window.say(one.says, wrong=True)
            elif not self.window.bench.board.take(one.mm, "caliper"):
                self.window.say(
                    f"The caliper reads {one.mm:.2f} mm. Put the focus on a length first; then press it again.",
                    wrong=True,
                )


class _Told(QObject):
    progress = Signal(float)
    done = Signal(object)
    failed = Signal(str)


class _Tracing(QRunnable):
    """Reads and traces a picture on a thread of its own; what it holds is let go there, not here."""

    def __init__(self, path: Path, sheet: str) -> None:
        super().__init__()
        self.path, self.sheet = path, sheet
        self.told, self.halt = _Told(), Event()

    def run(self) -> None:
        from ..core.measure.picture import trace
        from ..instruments.camera import read_picture

        def progress(share: float) -> bool:
            self.told.progress.emit(share)
            return not self.halt.is_set()

        try:
            found = trace(read_picture(self.path), self.sheet, progress)  # type: ignore[arg-type]
        except VowLineError as error:
            self.told.failed.emit(str(error))
        except Exception as error:  # noqa: BLE001 - said on the desk; a thread's end would be silent
            self.told.failed.emit(f"The picture could not be traced: {error}")
        else:
            self.told.done.emit(found)


class TracingBar(QWidget):
    """Says how far the tracing is, and stops it."""

    def __init__(self, window: "Window") -> None:
        super().__init__(window)
        self.window_ = window
        self._work: _Tracing | None = None
        self.says = QLabel("Tracing the picture", self)
        self.says.setFont(type_(15))
        self.bar = QProgressBar(self)
        self.bar.setRange(0, 100)
        self.bar.setAccessibleName("How far the tracing is")
        self.halt = QPushButton("Stop", self)
        self.halt.clicked.connect(self.stop)
        row = QHBoxLayout(self)
        row.setContentsMargins(26, 6, 26, 6)
        for part in (self.says, self.bar, self.halt):
            row.addWidget(part)
        self.hide()

    def ask(self) -> None:
        """Ask for a picture and what it was taken on, and trace it."""
        chosen, _ = QFileDialog.getOpenFileName(self.window_, "A picture of it on paper", "", PICTURES)
        if not chosen:
            return
        sheet, yes = QInputDialog.getItem(
            self.window_, "The paper under it", "It lies on", ["A4", "Letter", "A3"], editable=False
        )
        drew = _drew(self.window_, "The picture shows") if yes else None
        if drew is not None:
            self.trace(Path(chosen), sheet, drew)

    def trace(self, path: Path, sheet: str = "A4", drew: DrawnWith = "nothing") -> None:
        """Trace a picture of the thing, or of a line drawn round it."""
        if self._work is not None:
            self.window_.say("A picture is being traced already.")
            return
        work = self._work = _Tracing(path, sheet)
        work.setAutoDelete(False)
        work.told.progress.connect(lambda share: self.bar.setValue(round(100 * share)))
        work.told.failed.connect(self._failed)
        work.told.done.connect(lambda found: self._done(found, drew))
        self.bar.setValue(0)
        self.show()
        QThreadPool.globalInstance().start(work)

    def stop(self) -> None:
        """Stop at the next step."""
        if self._work is not None:
            self._work.halt.set()

    @property
    def busy(self) -> bool:
        """Whether a picture is being traced."""
        return self._work is not None

    def _failed(self, says: str) -> None:
        self._work = None
        self.hide()
        self.window_.say(says, wrong=True)

    def _done(self, found: object, drew: DrawnWith) -> None:
        from ..core.measure.picture import Traced

        self._work = None
        self.hide()
        if not isinstance(found, Traced):
            self.window_.say("The tracing was stopped; the outline is as it was.")
            return
        ring = within_line(found.outline, drew)
        if self.window_.do("trace the outline", lambda j: steps.take_outline(j, ring=ring, drawn_with=drew)):
            self.window_.say(
                f"Traced, {len(found.outline)} points, its scale from {found.scale_from}. Check it by one length measured "
                "across, and put the ends of its edge right."
            )


def take_from_file(
    window: "Window", path: Path | None = None, ask: Callable[[], float | None] | None = None,
    drew: DrawnWith | None = None,
) -> None:  # fmt: skip
    """Take an outline from an SVG or DXF file, asking for its scale when it has none, and for what drew it."""
    drawn = _read(window, "An outline", path, ask or (lambda: _scale(window)))
    if drawn is None:
        return
    ring: Line = drawn.outline
    drew = drew or _drew(window, "The outline in the file follows")
    if drew is None:
        return
    if window.do("take an outline from a file", lambda j: steps.take_outline(j, ring=ring, drawn_with=drew)):
        more = f" The largest of {drawn.others + 1} was taken." if drawn.others else ""
        window.say(f"The outline has {len(ring)} points.{more}")


def take_section_from_file(window: "Window", path: Path | None = None) -> None:
    """Take the section of a thing, lying on its lower side, from an SVG or DXF file; only its shape counts."""
    drawn = _read(window, "A section", path, lambda: 1.0)
    if drawn is not None:
        window.do("take a section from a file", lambda j: steps.take_section(j, ring=drawn.outline))


def _read(window: "Window", says: str, path: Path | None, scale: Callable[[], float | None]) -> "Drawn | None":
    from ..files.outline import read_outline

    if path is None:
        chosen, _ = QFileDialog.getOpenFileName(window, says, "", DRAWINGS)
        if not chosen:
            return None
        path = Path(chosen)
    try:
        drawn = read_outline(path)
        if drawn.scaled:
            return drawn
        mm = scale()
        return None if mm is None else read_outline(path, mm)
    except VowLineError as error:
        window.say(str(error), wrong=True)
        return None


def _drew(window: QWidget, says: str) -> DrawnWith | None:
    """What drew the outline, which is taken off it; None when nothing was chosen."""
    chosen, yes = QInputDialog.getItem(window, "What drew it", says, list(DREW), editable=False)
    return DREW[chosen] if yes else None


def _scale(window: QWidget) -> float | None:
    value, yes = QInputDialog.getDouble(
        window,
        "Its scale",
        "The file does not say how large it is. One unit in it is how many mm?",
        1.0,
        0.0001,
        10_000,
        4,
    )
    return value if yes else None
