"""One window for one workshop on one machine: a second start finds the first, which opens there what was asked for.

They meet at a socket in the runtime folder, or with the unsaved work where there is none: its owner's alone in either.
"""

import contextlib
import hashlib
import json
import os
import socket
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

if TYPE_CHECKING:
    from PySide6.QtNetwork import QLocalSocket

ANSWER_S = 2.0
LONGEST = 100  # bytes of a socket's path, which has little room
MOST_BYTES = 10_000
TAKEN = b"taken\n"


def meeting_place(home: Path, state: Path) -> Path | None:
    """Where windows on this workshop meet; None where no path is short enough."""
    name = f"vow-line-{hashlib.sha256(os.fsencode(home.resolve())).hexdigest()[:16]}"
    runtime = os.environ.get("XDG_RUNTIME_DIR", "")
    for folder in (Path(runtime) if runtime else state, state):
        if folder.is_dir() and len(os.fsencode(folder / name)) < LONGEST:
            return folder / name
    return None


def hand_over(place: Path, job: Path | None) -> bool | None:
    """Have the window that is there come forward and open a job; whether it did, None where there is none."""
    line = _called(place)
    if line is None:
        return None
    with contextlib.closing(line):
        told = {
            "open": str(job.resolve()) if job else "",
            "token": os.environ.get("XDG_ACTIVATION_TOKEN", os.environ.get("DESKTOP_STARTUP_ID", "")),
        }
        try:
            line.sendall(json.dumps(told).encode() + b"\n")
            return line.recv(len(TAKEN)) == TAKEN
        except OSError:
            return False


class Door(QObject):
    """Where a second start knocks. `knocked` carries the job to open, or None, and the desktop's leave to come forward."""

    knocked = Signal(object, str)

    def __init__(self, place: Path, parent: QObject) -> None:
        super().__init__(parent)
        from PySide6.QtNetwork import QLocalServer

        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        self._server.newConnection.connect(self._answer)
        line = _called(place)
        if line is None:  # what is there then is of a window that was killed, and gives way
            self._server.listen(os.fspath(place))
        else:
            line.close()

    @property
    def open(self) -> bool:
        """Whether it can be found here."""
        return self._server.isListening()

    def shut(self) -> None:
        """No longer."""
        self._server.close()

    def _answer(self) -> None:
        while (line := self._server.nextPendingConnection()) is not None:
            line.disconnected.connect(line.deleteLater)
            line.readyRead.connect(lambda line=line: self._hear(line))
            self._hear(line)

    def _hear(self, line: "QLocalSocket") -> None:
        if not line.canReadLine():
            if line.bytesAvailable() > MOST_BYTES:
                line.abort()
            return
        try:
            told = json.loads(bytes(line.readLine().data()))
            job, token = str(told["open"]), str(told["token"])
        except (ValueError, LookupError, TypeError):
            line.abort()
            return
        line.write(TAKEN)
        line.flush()
        line.disconnectFromServer()
        self.knocked.emit(Path(job) if job else None, token)


def _called(place: Path) -> socket.socket | None:
    """The line to whoever answers at a place; None where nobody does."""
    line = socket.socket(socket.AF_UNIX)
    line.settimeout(ANSWER_S)
    try:
        line.connect(os.fspath(place))
    except OSError:
        line.close()
        return None
    return line
