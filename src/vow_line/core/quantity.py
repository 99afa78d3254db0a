"""Quantities and how they are written; with `typed`, which reads them, the only place that knows units.

Inside the program a length is in mm, an angle in radians, a time in minutes, a weight in grams. A *quantity* `Q` is such
a number together with what it measures, so that it can be written in the units the maker chose.
"""

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, NamedTuple

INCH_MM = 25.4
FRENCH_INCH_MM = 27.07  # the old inch of twelve lines by which pricking irons are numbered (common practice)
OUNCE_MM = INCH_MM / 64  # leather: one ounce to the square foot is 1/64 inch thick (common practice)
SQUARE_FOOT_MM2 = (12 * INCH_MM) ** 2

Sheet = Literal["A4", "Letter", "A3"]
PrintSheet = Literal["A4", "Letter"]
SHEETS_MM: dict[Sheet, tuple[float, float]] = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4), "A3": (297.0, 420.0)}
"""Width and height of sheets of paper (ISO 216:2007; ANSI/ASME Y14.1)."""

Kind = Literal[
    "length", "fine", "leather", "long", "area", "count", "percent", "minutes", "grams", "money", "degrees", "times",
    "thread",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Units:
    """How the maker wants to read numbers: `length` mm or in, in 16ths or 32nds, `leather` in mm or oz."""

    length: Literal["mm", "in"] = "mm"
    fraction: Literal[16, 32] = 16
    leather: Literal["mm", "oz"] = "mm"


class Q(NamedTuple):
    """A number in the program's own units, and what it measures."""

    kind: Kind
    value: float


FINER, AS_TYPED = (32, 64), 1e-6  # fractions of an inch besides those wanted, and how near to one a number is it


def _decimal(value: float, places: int) -> str:
    text = f"{value:.{places}f}"
    if places:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text.replace("-", "\u2212")


def _inches(mm: float, fraction: int) -> str:
    """In the fraction that is wanted; what was typed in a finer one, to a sixty-fourth, comes back as it was typed."""
    fraction = next(
        (f for f in (fraction, *FINER) if abs(mm / INCH_MM * f - round(mm / INCH_MM * f)) < AS_TYPED), fraction
    )
    parts = round(Fraction(mm) / Fraction(254, 10) * fraction)
    sign = "\u2212" if parts < 0 else ""
    whole, part = divmod(abs(parts), fraction)
    if not part:
        return f"{sign}{whole}"
    low = Fraction(part, fraction)
    return f"{sign}{whole} {low}" if whole else f"{sign}{low}"


def write(quantity: Q, units: Units, unit: bool = True, like: Q | None = None) -> str:
    """The quantity as the maker reads it, with its unit unless `unit` is false; in the unit of another that it stands beside.

    mm to 0.1 (`fine` to 0.01), inches as fractions, longer threads in m or inches; nothing else rounds anywhere.
    """
    kind, value = quantity
    beside = abs((like or quantity).value)
    metric = units.length == "mm"
    match kind:
        case "length":
            number, name = (_decimal(value, 1), "mm") if metric else (_inches(value, units.fraction), "in")
        case "fine" | "thread":
            number, name = (_decimal(value, 2), "mm") if metric else (_decimal(value / INCH_MM, 3), "in")
        case "leather":
            number, name = (_decimal(value, 1), "mm")
            if units.leather == "oz":
                number, name = _decimal(value / OUNCE_MM, 1), "oz"
        case "long":
            if metric:
                number, name = (f"{value / 1000:.2f}", "m") if beside >= 1000 else (_decimal(value / 10, 1), "cm")
            else:
                number, name = _inches(value, 4), "in"
        case "area":
            number, name = (f"{value / 1e4:.1f}", "dm²") if metric else (f"{value / SQUARE_FOOT_MM2:.2f}", "sq ft")
        case "percent":
            number, name = _decimal(value * 100, 1), "%"
        case "minutes":
            number, name = _time(value, beside)
        case "grams":
            number, name = _decimal(value, 1), "g"
        case "money":
            number, name = f"{value:.2f}", ""
        case "degrees":
            number, name = _decimal(math.degrees(value), 0), "°"
        case "times":
            number, name = _decimal(value, 1), "times"
        case _:
            number, name = _decimal(value, 0), ""
    if not unit or not name:
        return number
    return f"{number}{name}" if name == "°" else f"{number} {name}"


def step(quantity: Q, units: Units, like: Q | None) -> tuple[float, str] | None:
    """The least by which two quantities of this kind differ as they are written, beside another of it, in the program's own
    units, and the unit it is written in; None where nothing is rounded or nothing is added.
    """
    beside, metric = abs((like or quantity).value), units.length == "mm"
    match quantity.kind:
        case "length":
            return (0.1, "mm") if metric else (INCH_MM / units.fraction, "in")
        case "fine" | "thread":
            return (0.01, "mm") if metric else (INCH_MM / 1000, "in 3")
        case "leather":
            return (0.1, "mm") if units.leather == "mm" else (OUNCE_MM / 10, "oz")
        case "long":
            if not metric:
                return INCH_MM / 4, "in"
            return (10.0, "m") if beside >= 1000 else (1.0, "cm")
        case "minutes":
            return (1.0, "min") if beside < 60 else (6.0, "h") if beside < 48 * 60 else (144.0, "days")
        case "area":
            return (1e3, "dm²") if metric else (SQUARE_FOOT_MM2 / 100, "sq ft")
        case "grams":
            return 0.1, "g"
        case _:
            return None


def _time(minutes: float, beside: float) -> tuple[str, str]:
    if beside < 60:
        return _decimal(minutes, 0), "min"
    return (_decimal(minutes / 60, 1), "h") if beside < 48 * 60 else (_decimal(minutes / 60 / 24, 1), "days")
