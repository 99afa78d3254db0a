"""The order of the work, its waits and its hours, drying, edges, and what may be kept when a vow is broken."""

from .choices import SewnTo, Sitting, Tick, Weighing, WorkChoices
from .plan import Work, plan_work
from .step import Step

__all__ = ["SewnTo", "Sitting", "Step", "Tick", "Weighing", "Work", "WorkChoices", "plan_work"]
