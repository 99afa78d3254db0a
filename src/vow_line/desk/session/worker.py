"""The one way in which work leaves the main thread."""

import traceback
from collections.abc import Callable
from threading import Event
from typing import Any

from PySide6.QtCore import QObject, QRunnable, Qt, QThreadPool, Signal
from shiboken6 import isValid

from ...core.errors import VowLineError
from ...core.texts import tell


class Tell:
    """What work under way tells the desk with, from its own thread."""

    def __init__(self, task: "Task") -> None:
        self._task = task

    @property
    def stopped(self) -> bool:
        """Whether it should stop."""
        return self._task.halt.is_set()

    def progress(self, share: float, says: str = "") -> bool:
        """Tell how far it is, 0 to 1, and with what; false when it should stop."""
        self._task.progressed.emit(share, says)
        return not self.stopped

    def better(self, found: object) -> None:
        """Tell the best that is found so far."""
        self._task.bettered.emit(found)


class Task(QObject):
    """One piece of work under way. Its signals come in the main thread: `progressed` share and words, `bettered` the best so
    far, `done` what it gave, `failed` why it could not; after either of the last two `ended`.
    """

    progressed = Signal(float, str)
    bettered = Signal(object)
    done = Signal(object)
    failed = Signal(str)
    ended = Signal()
    _gave = Signal(object)
    _raised = Signal(str, str)

    def __init__(self, name: str, parent: QObject) -> None:
        super().__init__(parent)
        self.name, self.halt, self.running = name, Event(), True
        self._gave.connect(self._end, Qt.ConnectionType.QueuedConnection)
        self._raised.connect(self._fail, Qt.ConnectionType.QueuedConnection)

    def stop(self) -> None:
        """Ask it to stop at its next step."""
        self.halt.set()

    def _end(self, gave: object) -> None:
        self.running = False
        self.done.emit(gave)
        self.ended.emit()

    def _fail(self, says: str, trace: str) -> None:
        self.running = False
        if trace and isinstance(worker := self.parent(), Worker):
            worker.broke.emit(self.name, trace)
        self.failed.emit(says)
        self.ended.emit()


class _Run(QRunnable):
    def __init__(self, work: Callable[[Tell], Any], task: Task) -> None:
        super().__init__()
        self.setAutoDelete(False)  # what it holds is let go in the main thread
        self.work, self.task = work, task

    def run(self) -> None:
        task = self.task
        try:
            gave = self.work(Tell(task))
        except VowLineError as error:
            task._raised.emit(str(error), "")
        except Exception as error:  # noqa: BLE001 - said on the desk; a thread's end would be silent
            task._raised.emit(
                tell(
                    "This went wrong while {doing}: {error}", doing=task.name, error=str(error) or type(error).__name__
                ),
                traceback.format_exc(),
            )
        else:
            task._gave.emit(gave)


class Worker(QObject):
    """Does work off the main thread. `broke` carries what was being done and the trace, where work ended by a mistake in it."""

    broke = Signal(str, str)

    def __init__(self, parent: QObject | None = None, *, at_once: int = 2) -> None:
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(at_once)
        self._under_way: dict[Task, _Run] = {}

    def start(
        self, name: str, work: Callable[[Tell], Any], *, done: Callable[[Any], None] = lambda _: None,
        failed: Callable[[str], None] = lambda _: None, progress: Callable[[float, str], None] = lambda *_: None,
        better: Callable[[Any], None] = lambda _: None,
    ) -> Task:  # fmt: skip
        """Begin a piece of work, whose `name` says what it does, as in "tracing the picture"; all that it tells arrives in the
        main thread.
        """
        task = Task(name, self)
        queued = Qt.ConnectionType.QueuedConnection
        relay = _Relay(task, progress, better)
        task.progressed.connect(relay.progress, queued)
        task.bettered.connect(relay.better, queued)
        task.done.connect(done)
        task.failed.connect(failed)
        task.ended.connect(lambda: self._ended(task))
        run = self._under_way[task] = _Run(work, task)
        self._pool.start(run)
        return task

    def _ended(self, task: Task) -> None:
        del self._under_way[task]
        task.deleteLater()

    @property
    def busy(self) -> bool:
        """Whether anything is under way."""
        return bool(self._under_way)

    def wait(self) -> None:
        """Wait until all that was begun is done; what it told arrives later."""
        self._pool.waitForDone()

    def put_away(self) -> None:
        """Stop all, and wait for it."""
        for task in self._under_way:
            task.stop()
        self.wait()


class _Relay(QObject):
    """Lives in the main thread, so that what is queued for it arrives there."""

    def __init__(self, task: Task, progress: Callable[[float, str], None], better: Callable[[Any], None]) -> None:
        super().__init__(task)
        self._progress, self._better = progress, better

    def progress(self, share: float, says: str) -> None:
        if _there(self._progress):
            self._progress(share, says)

    def better(self, found: object) -> None:
        if _there(self._better):
            self._better(found)


def _there(told: Callable[..., None]) -> bool:
    """Whether what is to be told has not gone meanwhile, as a dialog that was closed has."""
    of = getattr(told, "__self__", None)
    return not isinstance(of, QObject) or isValid(of)
