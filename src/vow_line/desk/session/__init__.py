"""The open job and all that goes with it, without a widget."""

from .autosave import Autosave
from .session import Session
from .store import Store
from .worker import Task, Tell, Worker

__all__ = ["Autosave", "Session", "Store", "Task", "Tell", "Worker"]
