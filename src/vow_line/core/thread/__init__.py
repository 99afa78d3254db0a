"""Seams to needle moves to lengths of thread; one module per stitch."""

from .choices import Slack, Thread, ThreadChoices
from .plan import Threading, thread
from .sewn import Cut, School, SewnSeam, sew_plan, sewn_with

__all__ = [
    "Cut",
    "School",
    "SewnSeam",
    "Slack",
    "Thread",
    "ThreadChoices",
    "Threading",
    "sew_plan",
    "sewn_with",
    "thread",
]
