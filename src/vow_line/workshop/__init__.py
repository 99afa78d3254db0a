"""What outlives a job: which jobs there are, what was learned, and how the maker likes the bench."""

from .workshop import Preferences, Workshop

__all__ = ["Preferences", "Workshop"]
