"""What girths grown people have, by a published sample: a reading outside it is asked about, never refused.

The girths of 507 adults, 247 men and 260 women, most of them fit and in their twenties and thirties: G. Heinz, L. J. Peterson,
R. W. Johnson, C. J. Kerk, Exploring Relationships in Body Dimensions, Journal of Statistics Education 11(2), 2003. No sample
of children, hands, heads, necks or animals is here, and none is judged.
"""

from dataclasses import dataclass, replace

from ..finding import Finding, Mend
from ..quantity import INCH_MM
from ..reckoning import count, length
from ..texts import Said, said
from .readings import Reading

SAMPLE = 507


@dataclass(frozen=True, slots=True)
class Girths:
    """A girth that was read of all of the sample: the 1st, the 50th and the 99th percentile, in mm."""

    title: Said
    least_mm: float
    middle_mm: float
    most_mm: float


PEOPLE = {
    "ankle": Girths(said("an ankle"), 185, 220, 270),
    "calf": Girths(said("a calf"), 300, 360, 426),
    "knee": Girths(said("a knee"), 309, 360, 426),
    "thigh": Girths(said("a thigh"), 485, 563, 694),
    "wrist": Girths(said("a wrist"), 134, 161, 192),
    "forearm": Girths(said("a forearm"), 207, 258, 319),
    "upper-arm": Girths(said("an upper arm"), 237, 310, 402),
    "chest": Girths(said("a chest"), 750, 916, 1150),
    "waist": Girths(said("a waist"), 586, 758, 1051),
}


def unlikely(
    place: str, reading: Reading, path: str, over_mm: float = 0.0, between: tuple[str, str] | None = None
) -> tuple[Finding, ...]:  # fmt: skip
    """A look where a girth lies outside what 98 of 100 of the sample have there, `over_mm` allowed for what is worn; or, where
    it may lie anywhere `between` two places, outside what they have at both.
    """
    if not reading.by_hand:
        return ()
    girths, mm = PEOPLE[place], sum(reading.by_hand) / len(reading.by_hand)
    if between:
        least, most = (PEOPLE[p] for p in between)
        girths = replace(girths, least_mm=min(least.least_mm, most.least_mm), most_mm=max(least.most_mm, most.most_mm))
    if girths.least_mm <= mm <= girths.most_mm + over_mm:
        return ()
    inches = next((k for k in (INCH_MM, 10.0) if girths.least_mm <= mm * k <= girths.most_mm + over_mm), 0.0)
    says = said("{mm} round {place}: of {n} adults one in a hundred had less than {least}, one in a hundred more than {most}.",
                mm=length(mm), place=girths.title, n=count(SAMPLE), least=length(girths.least_mm),
                most=length(girths.most_mm))  # fmt: skip
    if inches:
        unit = said("inches") if inches == INCH_MM else said("centimetres")
        says = said("{says} Was it read in {unit}?", says=says, unit=unit)
    mend = Mend(said("read again"), ((f"{path}.first", None), (f"{path}.second", None)))
    return (Finding("look", "girth-unlikely", "measure", says, f"{path}.first", mend),)
