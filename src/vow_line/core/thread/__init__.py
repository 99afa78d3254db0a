"""Seams to needle moves to lengths of thread; one module per stitch."""

from .choices import Slack, Thread, ThreadChoices
from .plan import Cut, School, SewnSeam, Threading, sew_plan, thread

__all__ = ["Cut", "School", "SewnSeam", "Slack", "Thread", "ThreadChoices", "Threading", "sew_plan", "thread"]
