"""A *reading* is one measurement taken twice: leather will depend on it."""

from collections.abc import Iterable, Iterator
from datetime import date
from typing import Annotated, Any

from pydantic import Field

from ..curve import frozen
from ..drawing import Mark
from ..finding import Finding, Mend
from ..frozen import Frozen
from ..reckoning import Reckoning, count, fine, length, minutes, reckon
from ..texts import Said, dated_on, joined, said, verbatim

RIGID_MM = 0.5  # two readings of a rigid tool should agree to this (common practice)
MOST_MM = 600.0  # a reading of more is asked about (from memory)
MOST_THICK_MM = 80.0  # and one of a thickness
MOST_LONG_MM = 1500.0  # and one of a whole length
OLD_DAYS = 365  # a reading older than this is taken again (from memory)
THICKNESS_MM = 0.1  # two readings of a thickness should agree to this (common practice)

SPREAD_SAYS = said(
    "half the widest difference between two readings of one place; bars on the drawing show them ten times"
)

Measured = Annotated[float, Field(ge=0, le=2000)]


Words = Annotated[str, Field(max_length=200)]


class Taken(Frozen):
    """How one reading was taken: on what day, by whom, using what, over what."""

    on: date | None = None
    by: Words = ""
    using: Words = ""
    over: Words = ""

    @property
    def says(self) -> Said:
        """What is known of it, in words."""
        words = ((self.by, said("by {who}")), (self.using, said("with {who}")), (self.over, said("over {who}")))
        parts = [text.filled(who=verbatim(value)) for value, text in words if value]
        return joined(*([dated_on(self.on)] if self.on else []), *parts)


class Reading(Frozen):
    """A first and a second reading in mm, each with how it was taken, and beside them what a traced outline gives for the same
    place; any of them may be lacking.
    """

    first: Measured | None = None
    second: Measured | None = None
    first_taken: Taken = Taken()
    second_taken: Taken = Taken()
    outline: Measured | None = None

    @property
    def by_hand(self) -> tuple[float, ...]:
        """What was read by hand."""
        return tuple(r for r in (self.first, self.second) if r is not None)

    @property
    def taken(self) -> bool:
        """Whether there is anything to go by."""
        return bool(self.by_hand) or self.outline is not None

    @property
    def mean_mm(self) -> float:
        """The mean of what was read by hand, else what the outline gives. Raises ValueError where there is neither."""
        if self.by_hand:
            return sum(self.by_hand) / len(self.by_hand)
        if self.outline is None:
            raise ValueError("no reading was taken")
        return self.outline

    def facts(self) -> tuple[Taken, ...]:
        """How what was read by hand was taken, the first before the second."""
        both = ((self.first, self.first_taken), (self.second, self.second_taken))
        return tuple(taken for value, taken in both if value is not None)

    def traced(self, mm: float) -> "Reading":
        """The same with what an outline gives, laid beside what was read by hand."""
        return self.model_copy(update={"outline": round(mm, 2)})

    @property
    def spread_mm(self) -> float:
        """Half the distance between the two readings; 0 when only one was taken."""
        return abs(self.first - self.second) / 2 if self.first is not None and self.second is not None else 0.0

    def findings(
        self, path: str, name: Said, tolerance_mm: float, most_mm: float = MOST_MM, *, touches: bool = False
    ) -> tuple[Finding, ...]:
        """A hold when missing or nothing, unless it is a distance that may be nothing where a thing `touches`; a look when
        taken once, when more than `most_mm`, or when the two disagree by more than `tolerance_mm`.
        """
        odd = [
            which
            for which in ("first", "second")
            if (mm := getattr(self, which)) is not None and not (0 < mm <= most_mm or (touches and mm == 0))
        ]
        if odd:
            mm = float(getattr(self, odd[0]))
            says = said("{name} was read as {mm}: nothing is that small.") if mm <= 0 else said(
                "{name} was read as {mm}; that is more than {most}. Is it in the right unit?")  # fmt: skip
            return (Finding(
                "hold" if mm <= 0 else "look", "reading-odd", "measure",
                says.filled(name=name, mm=length(mm), most=length(most_mm)), f"{path}.{odd[0]}",
                Mend(said("read again"), ((f"{path}.{odd[0]}", None),)),
            ),)  # fmt: skip
        if not self.taken:
            return (
                Finding(
                    "hold",
                    "reading-missing",
                    "measure",
                    said("{name} has not been measured.", name=name),
                    f"{path}.first",
                ),
            )
        if not self.by_hand:
            return (
                Finding(
                    "look",
                    "read-once",
                    "measure",
                    said("{name} comes from the outline alone: measure it once.", name=name),
                    f"{path}.first",
                ),
            )
        if self.first is None or self.second is None:
            lacking = "second" if self.second is None else "first"
            return (
                Finding("look", "read-once", "measure", said("{name} was read once.", name=name), f"{path}.{lacking}"),
            )
        if abs(self.first - self.second) > tolerance_mm + 1e-9:
            return (
                Finding(
                    "look",
                    "readings-disagree",
                    "measure",
                    said(
                        "{name} was read as {a} and {b}; they should agree to {tolerance}. The mean is used.",
                        a=fine(self.first),
                        b=fine(self.second),
                        tolerance=fine(tolerance_mm),
                        name=name,
                    ),
                    f"{path}.second",
                    Mend(said("read again"), ((f"{path}.second", None),)),
                ),
            )
        return ()


def every_reading(of: Any, path: str) -> Iterator[tuple[str, Reading]]:
    """All readings in a record or a tuple of records, with their places."""
    if isinstance(of, Reading):
        yield path, of
    elif isinstance(of, tuple):
        for k, item in enumerate(of):
            yield from every_reading(item, f"{path}.{k}")
    elif isinstance(of, Frozen):
        for name, value in of:
            yield from every_reading(value, f"{path}.{name}")


def dated(of: Any, on: date) -> Any:
    """A record or a tuple of records, readings of which no day was said taken on that one."""
    if isinstance(of, Reading):
        new = {
            which: taken.model_copy(update={"on": on})
            for which, value, taken in (("first_taken", of.first, of.first_taken), ("second_taken", of.second, of.second_taken))
            if value is not None and taken.on is None
        }  # fmt: skip
        return of.model_copy(update=new) if new else of
    if isinstance(of, tuple):
        return tuple(dated(item, on) for item in of)
    if isinstance(of, Frozen):
        return of.model_copy(update={name: dated(value, on) for name, value in of})
    return of


def aged(thing: Any, begins: date) -> tuple[Finding, ...]:
    """A look at the oldest reading, when it was taken more than a year before the work begins."""
    dated = [(t.on, path) for path, r in every_reading(thing, "thing") for t in r.facts() if t.on is not None]
    if not dated:
        return ()
    on, path = min(dated)
    days = (begins - on).days
    if days <= OLD_DAYS:
        return ()
    when = dated_on(on)
    return (Finding(
        "look", "reading-old", "measure",
        said("The oldest reading, of {when}, is {age} old when the work begins: {why}. Read it again.",
             age=minutes(days * 24 * 60), when=when, why=thing.ages), f"{path}.first",
    ),)  # fmt: skip


def read_so_far(readings: list[Reading]) -> tuple[Reckoning, ...]:
    """How many of the readings were taken twice, and when the oldest of them was taken and by whom."""
    taken = [r for r in readings if r.taken]
    twice = [r for r in taken if r.first is not None and r.second is not None]
    reckonings = [reckon("taken", said("Read twice"), count(len(twice)), said("of {n} readings", n=count(len(taken))))]
    dated = [t for r in taken for t in r.facts() if t.on is not None]
    if dated:
        oldest = min(dated, key=lambda t: str(t.on))
        by = said("the oldest by {maker}", maker=oldest.by) if oldest.by else said("the oldest")
        whose = said("{by}; {n} of the readings say when", n=count(len(dated)), by=by)
        assert oldest.on is not None
        reckonings.append(Reckoning("read-on", said("Read on"), dated_on(oldest.on), whose))
    return tuple(reckonings)


OUTLINE_MM, OUTLINE_SHARE = 1.5, 0.01  # so far an outline may be off what was read by hand (from memory)


def off_scale(what: Said, drawn_mm: float, told_mm: float) -> Said:
    """That an outline gives another length than was read by hand, with what makes it so as a rule."""
    cause = said(
        "as when the thing stood above the sheet, the sheet was smaller than was said, or the card was printed too small"
    ) if drawn_mm > told_mm else said(
        "as when a tip was lost on the picture, the sheet was larger than was said, or the card was printed too large"
    )  # fmt: skip
    return said("{what} is {drawn} by the outline and {told} by hand: {cause}. One of the two is wrong.",
                what=what, drawn=length(drawn_mm), told=length(told_mm), cause=cause)  # fmt: skip


def beside_outline(readings: Iterable[tuple[str, Said, Reading]], whole: Any) -> tuple[Finding, ...]:
    """A hold on the longest of readings, given with place and name, that a traced outline disagrees with; its mend leaves the
    outline out of `whole`, the thing they belong to.
    """
    off = [
        (r.outline, sum(r.by_hand) / len(r.by_hand), path, name)
        for path, name, r in readings
        if r.outline is not None and r.by_hand
    ]
    off = [o for o in off if abs(o[0] - o[1]) > max(OUTLINE_MM, OUTLINE_SHARE * o[1])]
    if not off:
        return ()
    drawn, told, path, name = max(off, key=lambda o: o[1])
    return (Finding(
        "hold", "outline-off-scale", "measure", off_scale(name, drawn, told), f"{path}.first",
        Mend(said("leave the outline out"), (("thing", without_outline(whole)),)),
    ),)  # fmt: skip


def without_outline(of: Any) -> Any:
    """A record or tuple of records whose readings give nothing of an outline where there is one by hand."""
    if isinstance(of, Reading):
        return of.model_copy(update={"outline": None}) if of.by_hand else of
    if isinstance(of, tuple):
        return tuple(without_outline(item) for item in of)
    if isinstance(of, Frozen):
        return of.model_copy(update={name: without_outline(value) for name, value in of})
    return of


BAND_TIMES = 10  # a band shows how far two readings lie apart so many times as large as it is


def band(reading: Reading, x: float, y: float, tolerance_mm: float, mark: str, share: float = 1.0) -> tuple[Mark, ...]:
    """How far the two readings of one place lie apart, as a bar across (x, y), `share` of the difference lying there; none
    where there are not two, or they are the same.
    """
    if reading.spread_mm == 0:
        return ()
    half = BAND_TIMES * share * reading.spread_mm
    ring = frozen([[x - 1.5, y - half], [x + 1.5, y - half], [x + 1.5, y + half], [x - 1.5, y + half]])
    wide = 2 * reading.spread_mm > tolerance_mm + 1e-9
    return (Mark("void" if wide else "done", ring, True, mark),)
