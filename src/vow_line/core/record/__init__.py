"""Planned beside done, and what it teaches."""

from .learn import Learned, learn
from .record import Note, Recorded, RecordEntries, ThreadLeft, record

__all__ = ["Learned", "Note", "RecordEntries", "Recorded", "ThreadLeft", "learn", "record"]
