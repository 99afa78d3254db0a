"""The order of the work, its waits and its hours, drying, edges, and what may be kept when a vow is broken."""

from .choices import Session, SewnTo, Tick, Weighing, WorkChoices
from .steps import Step, Work, plan_work

__all__ = ["Session", "SewnTo", "Step", "Tick", "Weighing", "Work", "WorkChoices", "plan_work"]
