"""Outlines and sections taken from drawings in files."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtWidgets import QFileDialog, QInputDialog, QWidget

from ...core import steps
from ...core.errors import VowLineError
from ...core.measure.traced import Drawn, DrawnWith
from ...core.quantity import Units
from ...core.reckoning import count, length
from ...core.texts import NOTHING, Said, said, several, tell
from ..look import asking
from ..session import Session

if TYPE_CHECKING:
    from ...files.outline import FileOutline

ALL = -1
DREW: dict[DrawnWith, Said] = {
    "nothing": said("the thing itself"), "scribe": said("a scribed line"), "pencil": said("a pencil line"),
    "ball-pen": said("a ball pen line"), "marker": said("a marker line"),
}  # fmt: skip


def take_from_file(
    session: Session, parent: QWidget, path: Path | None = None, ask: Callable[[], float | None] | None = None,
    drew: DrawnWith | None = None, choose: "Callable[[FileOutline], int | None] | None" = None,
) -> None:  # fmt: skip
    """Take an outline from a file, or all in it where a thing has many, asking for its scale when it has none, and for what
    drew it.
    """
    all_of_them = type(session.job.thing).many
    taken = _read(session, parent, tell("An outline"), path, ask or (lambda: _scale(parent)),
                  choose or (lambda read: _which(session, parent, read, all_of_them)))  # fmt: skip
    if not taken:
        return
    drew = drew or ask_what_drew(parent, tell("The outline in the file follows"))
    if drew is None:
        return
    rings = [(drawn.outline, drawn.holes) for drawn in taken]
    read = [Drawn(ring, drew, holes) for ring, holes in rings]
    if not session.do(tell("take an outline from a file"), lambda j: steps.take_outlines(j, drawn=read)):
        return
    ((ring, _), *more), left = rings, taken[0].others + 1 - len(rings) - sum(len(holes) for _, holes in rings)
    pierced = several("With {n} hole.", "With {n} holes.", n=count(sum(len(holes) for _, holes in rings)))
    wide, high = (length(float(mm)) for mm in np.ptp(ring, axis=0))
    text = said("Taken: {n} outlines.", n=count(len(rings))) if more else said(
        "Taken: an outline of {n} points, {wide:n} by {high}.", n=len(ring), wide=wide, high=high)  # fmt: skip
    besides = several("There is {n} closed curve besides in the file.", "There are {n} closed curves besides in the file.",
                      n=count(left))  # fmt: skip
    for told in (pierced if any(len(holes) for _, holes in rings) else NOTHING, besides if left else NOTHING):
        text = said("{one} {other}", one=text, other=told) if told else text
    session.say(text)


def take_section_from_file(session: Session, parent: QWidget, path: Path | None = None) -> None:
    """Take the section of a thing, lying on its lower side, from a file; only its shape counts."""
    taken = _read(
        session, parent, tell("A section"), path, lambda: 1.0, lambda read: _which(session, parent, read), False
    )
    if taken:
        session.do(tell("take a section from a file"), lambda j: steps.take_section(j, ring=taken[0].outline))


def _read(
    session: Session, parent: QWidget, says: str, path: Path | None, scale: Callable[[], float | None],
    choose: "Callable[[FileOutline], int | None]", sized: bool = True,
) -> "list[FileOutline]":  # fmt: skip
    """The outlines that were chosen in a file: none, one, or all of them; `sized` when their size counts."""
    from ...files.outline import read_outline, suffixes

    if path is None:
        kinds = tell("Drawings and points ({kinds})", kinds=" ".join(f"*{suffix}" for suffix in suffixes()))
        chosen, _ = QFileDialog.getOpenFileName(parent, says, "", kinds)
        if not chosen:
            return []
        path = Path(chosen)
    try:
        drawn = read_outline(path)
        mm = None if drawn.scaled else scale()
        if not drawn.scaled and mm is None:
            return []
        drawn = drawn if mm is None else read_outline(path, mm)
        which = choose(drawn) if drawn.doubtful else drawn.taken
        if which is None:
            return []
        alike = [k for k, c in enumerate(drawn.candidates) if not (c.frame or c.within)]
        meant = alike if which == ALL else [which]
        taken = [read_outline(path, mm, k) for k in meant]
        odd = next((one for one in taken if sized and one.absurd), None)
        if odd is None or _so_large(session, parent, odd):
            return taken
        mm = scale()
        return [] if mm is None else [read_outline(path, mm, k) for k in meant]
    except VowLineError as error:
        session.say(str(error), wrong=True)
        return []


def _which(session: Session, parent: QWidget, drawn: "FileOutline", all_of_them: bool = False) -> int | None:
    """Which of the closed curves in a file is meant, or ALL; None when that was not said."""
    size = said("{wide:n} by {high}")
    words = []
    for k, c in enumerate(drawn.candidates):
        one = said("{n}: {size}", n=k + 1, size=size.filled(wide=length(c.wide), high=length(c.high)))
        if c.frame:
            one = said("{one}, perhaps the frame of the page", one=one)
        elif c.within:
            one = said("{one}, within another", one=one)
        words.append(one.write(session.units))
    says, at = tell("There is more than one closed curve in it. Take"), drawn.taken
    if all_of_them:
        words, at = [*words, tell("all of them")], len(words)
    chosen, yes = QInputDialog.getItem(parent, tell("Which outline"), says, words, at, editable=False)
    if all_of_them and yes and chosen == words[-1]:
        return ALL
    return words.index(chosen) if yes else None


def _so_large(session: Session, parent: QWidget, drawn: "FileOutline") -> bool:
    """Whether an outline of a size no thing has is meant so."""
    wide, high = (length(float(mm)) for mm in np.ptp(drawn.outline, axis=0))
    says = said("It comes out {wide:n} by {high}. Take it at that size?", wide=wide, high=high).write(session.units)
    return asking.choose(parent, tell("Its size"), says, tell("&Yes"), tell("&No")) == 0


def ask_what_drew(parent: QWidget, says: str) -> DrawnWith | None:
    """What drew the outline, which is taken off it; None when nothing was chosen."""
    titles = [t.write(Units()) for t in DREW.values()]
    chosen, yes = QInputDialog.getItem(parent, tell("What drew it"), says, titles, editable=False)
    return list(DREW)[titles.index(chosen)] if yes else None


def _scale(parent: QWidget) -> float | None:
    value, yes = QInputDialog.getDouble(
        parent,
        tell("Its scale"),
        tell("How large is it? One unit in the file is how many mm?"),
        1.0,
        0.0001,
        10_000,
        4,
    )
    return value if yes else None
