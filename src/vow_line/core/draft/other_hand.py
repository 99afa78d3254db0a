"""What is drafted for a left limb made for a right one: its mirror image, everything that is drawn and said of it with it."""

from dataclasses import fields, is_dataclass, replace
from functools import cache
from typing import Any

import numpy as np

from ..curve import Line, frozen
from ..memory import remembered
from ..texts import Said
from .assembly import Assembly
from .drafted import Draft, Section, Turned
from .joins import Lies
from .pieces import Edge, Piece

FLIP = np.array([-1.0, 1.0])
POINTS = {"at", "to", "centre", "thick", "thin", "shift", "about", "out"}  # pairs of numbers that are places or ways
SIDES = {"left": "right", "right": "left"}


def other_hand(draft: Draft) -> Draft:
    """The draft as it is in a mirror. What lies on the left lies on the right; ids stay with what they name."""
    section, turned, lined, station_of = draft.section, draft.turned, draft.lined, draft.station_of
    return replace(
        draft,
        assembly=_assembly(draft.assembly),
        **{name: _mirrored(getattr(draft, name)) for name in ("marks", "callouts", "labels")},
        section=(lambda v: _section(section(v))) if section else None,
        turned=None if turned is None else Turned(
            lambda rad: _mirrored(turned.draw(-rad)), turned.half_mm, lambda: _mirrored(turned.strained())
        ),
        lined=(lambda thick: other_hand(lined(thick))) if lined else None,
        station_of=(lambda u, v: station_of(-u, v)) if station_of else None,
    )  # fmt: skip


def _section(of: Section) -> Section:
    return replace(of, draw=lambda: _mirrored(of.marks))


@remembered("wearer")
def _assembly(of: Assembly) -> Assembly:
    return Assembly(**{f.name: tuple(map(_record, getattr(of, f.name))) for f in fields(of)})


@remembered("piece")
def _record(of: Any) -> Any:
    """A piece, a join or what else an assembly holds; the same again where it is the same."""
    return _mirrored(of)


@cache
def _fields(of: type) -> tuple[str, ...]:
    return tuple(f.name for f in fields(of))


def _mirrored(value: Any, name: str = "") -> Any:
    if isinstance(value, np.ndarray):
        if value.ndim != 2 or value.shape[1] != 2:
            return value
        return frozen(FLIP[:, None] * value * FLIP if name == "turn" else value * FLIP)
    if isinstance(value, Said):
        return _said(value)
    if isinstance(value, tuple):
        if name == "again":
            return tuple((_mirrored(turn, "turn"), _mirrored(shift, "shift")) for turn, shift in value)
        if name in POINTS and len(value) == 2 and not isinstance(value[0], tuple):
            return (-value[0], value[1])
        each = tuple(_mirrored(v, name) for v in value)
        return value if all(a is b for a, b in zip(each, value, strict=True)) else each
    if name in ("side", "align"):
        return SIDES.get(value, value)
    if not is_dataclass(value) or isinstance(value, type):
        return value
    changed = {}
    for place in _fields(type(value)):
        was = getattr(value, place)
        if was is not None and (now := _mirrored(was, place)) is not was:
            changed[place] = now
    made: Any = replace(value, **changed) if changed else value
    if isinstance(made, Edge):
        return replace(made, line=frozen(made.line[::-1]))
    if isinstance(made, Piece):
        rings = tuple(map(_back_round, made.slots))
        return replace(made, outline=_back_round(made.outline), slots=rings, edges=made.edges[::-1])
    return replace(made, p=made.q, q=made.p) if isinstance(made, Lies) else made


def _back_round(ring: Line) -> Line:
    """A ring from the same point on in the other sense, that in which rings are given."""
    return frozen(np.roll(ring[::-1], 1, axis=0))


def _said(text: Said) -> Said:
    """The name of what is at its left as that of what is at its right."""
    first, space, rest = text.template.partition(" ")
    return replace(text, template=f"{SIDES[first]}{space}{rest}") if first in SIDES else text
