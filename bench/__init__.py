"""Speed, measured beside something fixed in the same run."""

import math
import time


def pace() -> float:
    """Milliseconds of a fixed piece of work: how fast the machine is just now, which changes when others use it too."""
    begin = time.thread_time()
    for k in range(100):
        sorted(range(60), key=lambda n: -n * k)
        math.fsum(n * n for n in range(60))
    return (time.thread_time() - begin) * 1000


def deferred() -> None:
    """Delete what Qt put off deleting until no event is under way, which an idle program does by itself."""
    from PySide6.QtCore import QCoreApplication, QEvent

    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
