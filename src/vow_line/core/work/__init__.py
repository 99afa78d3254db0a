"""The order of the work, its waits and its hours, drying, edges, and what may be kept when a vow is broken."""

from .choices import Session, SewnTo, Tick, Weighing, WorkChoices
from .making import Step
from .steps import Work, plan_work

__all__ = ["Session", "SewnTo", "Step", "Tick", "Weighing", "Work", "WorkChoices", "plan_work"]
