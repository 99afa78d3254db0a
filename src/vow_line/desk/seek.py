"""Looking for a way out on a thread of its own."""

from collections.abc import Callable
from threading import Event

from PySide6.QtCore import QObject, QRunnable, Signal

from ..core.draft.search import Way


class _Told(QObject):
    done = Signal(object)


class Seeking(QRunnable):
    """Runs a search; `told.done` carries the way, or None when it was stopped."""

    def __init__(self, search: Callable[..., Way | None]) -> None:
        super().__init__()
        self.setAutoDelete(False)
        self._search, self.told, self.halt = search, _Told(), Event()

    def run(self) -> None:
        self.told.done.emit(self._search(progress=lambda _: not self.halt.is_set()))
