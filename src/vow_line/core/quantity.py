"""Reading and writing of lengths, leather thickness and stitch pitch; the only place that knows units.

Inside the program a length is in mm, an angle in radians, a time in minutes, a weight in grams. A *quantity* `Q` is such
a number together with what it measures, so that it can be written in the units the maker chose.
"""

import math
import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, NamedTuple

from .errors import UnreadableQuantity

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


_VULGAR = {
    "½": "1/2", "⅓": "1/3", "⅔": "2/3", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8",
    "⅕": "1/5", "⅖": "2/5", "⅗": "3/5", "⅘": "4/5", "⅙": "1/6", "⅚": "5/6",
}  # fmt: skip
_UNIT_MM: dict[str, Fraction] = {
    "mm": Fraction(1), "cm": Fraction(10), "m": Fraction(1000),
    "in": Fraction(254, 10), "inch": Fraction(254, 10), "inches": Fraction(254, 10), '"': Fraction(254, 10),
    "ft": Fraction(3048, 10), "foot": Fraction(3048, 10), "feet": Fraction(3048, 10), "'": Fraction(3048, 10),
    "oz": Fraction(254, 640), "ounce": Fraction(254, 640), "ounces": Fraction(254, 640),
}  # fmt: skip
_NUMBER = r"(?:(?P<whole>\d+)[\s-]+)?(?P<num>\d+)\s*/\s*(?P<den>\d+)|(?P<dec>\d+(?:[.,]\d+)?|[.,]\d+)"
_PART = re.compile(rf"\s*(?:{_NUMBER})\s*(?P<unit>[a-z]+|[\"'])?\s*")


def _plain(text: str) -> str:
    text = text.strip().lower().replace("″", '"').replace("”", '"').replace("′", "'").replace("’", "'")
    text = text.replace("''", '"').replace("\u2212", "-").replace("\u2044", "/").replace("\u00a0", " ")
    return re.sub(r"(\d)?([½⅓⅔¼¾⅛⅜⅝⅞⅕⅖⅗⅘⅙⅚])", lambda m: f"{m[1] or ''} {_VULGAR[m[2]]}", text).strip()


def _sum_of_parts(text: str, bare: str, what: str, units: tuple[str, ...]) -> Fraction:
    plain = _plain(text)
    sign = -1 if plain.startswith("-") else 1
    rest = plain.lstrip("+-").strip()
    if not rest:
        raise UnreadableQuantity(f"There is no {what} to read.", mend=f"Type it as 92 {units[0]} or 3 5/8 in.")
    if len(rest) > 40:
        raise UnreadableQuantity(f"{rest[:20]!r}… is too long for a {what}.", mend="Type one number and its unit.")
    parts = []
    while rest:
        found = _PART.match(rest)
        if not found:
            raise UnreadableQuantity(
                f"Cannot read {rest!r} in {text.strip()!r} as a {what}.", mend="Type it as 92 mm, 9.2 cm or 3 5/8 in."
            )
        parts.append(found)
        rest = rest[found.end() :]
    total, last = Fraction(0), Fraction(10**9)
    for found in parts:
        unit = found["unit"] or bare
        if unit not in units:
            raise UnreadableQuantity(
                f"{found['unit']!r} in {text.strip()!r} is not a unit of {what}.", mend=f"Use {', '.join(units)}."
            )
        if found["dec"]:
            number = Fraction(found["dec"].replace(",", "."))
        elif int(found["den"]) == 0:
            raise UnreadableQuantity(f"{text.strip()!r} divides by zero.", mend="Mend the lower number.")
        else:
            number = int(found["whole"] or 0) + Fraction(int(found["num"]), int(found["den"]))
        if _UNIT_MM[unit] >= last:
            raise UnreadableQuantity(
                f"{text.strip()!r} reads as more than one {what}.", mend="Type one, as 1' 2 1/2\" or 92 mm."
            )
        last = _UNIT_MM[unit]
        total += number * last
    return sign * total


_LENGTH_UNITS = ("mm", "cm", "m", "in", "inch", "inches", '"', "ft", "foot", "feet", "'")


def read_length(text: str, units: Units) -> float:
    """Length in mm from text such as `3 5/8`, `3-5/8"`, `1' 2 1/2"`, `92mm`, `31,5 mm`, `9.2 cm`.

    A bare number is in `units.length`. Raises UnreadableQuantity naming the part that could not be read.
    """
    return float(_sum_of_parts(text, units.length, "length", _LENGTH_UNITS))


def read_leather(text: str, units: Units) -> float:
    """Thickness of leather in mm from `3.2 mm`, `8 oz`, `1/8 in` or a range `7-8 oz`, of which it gives the middle.

    A bare number is in `units.leather`. Raises UnreadableQuantity.
    """
    low, high = read_leather_range(text, units)
    return (low + high) / 2


def read_leather_range(text: str, units: Units) -> tuple[float, float]:
    """Thinnest and thickest of a leather as sold, mm; both ends equal when one thickness is given."""
    plain = _plain(text)
    as_range = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*(?:-|–|to)\s*(\d+(?:[.,]\d+)?)\s*(oz|ounces?|mm)?", plain)
    kinds = ("mm", "oz", "ounce", "ounces", "in", "inch", "inches", '"', "cm")
    if as_range:
        unit = as_range[3] or units.leather
        ends = [float(_sum_of_parts(f"{as_range[i]} {unit}", unit, "thickness", kinds)) for i in (1, 2)]
        return min(ends), max(ends)
    one = float(_sum_of_parts(text, units.leather, "thickness", kinds))
    return one, one


def read_pitch(text: str, units: Units) -> float:
    """Hole pitch in mm from `4 mm`, `5/32 in`, `6 spi` (stitches per inch), or an iron's number with its system.

    Two systems number irons: `no 8 french` is an eighth of the French inch and `no 8 inch` of ours. A number without its
    system is refused, because the same number means two pitches. Raises UnreadableQuantity.
    """
    plain = _plain(text)
    numbered = re.fullmatch(r"(?:no\.?|number|#)\s*(\d+(?:[.,]\d+)?)\s*(french|inch|)", plain)
    if numbered:
        number = float(numbered[1].replace(",", "."))
        if number <= 0:
            raise UnreadableQuantity(f"An iron numbered {numbered[1]} has no pitch.", mend="Type its number, as no 8.")
        if not numbered[2]:
            french, inch = FRENCH_INCH_MM / number, INCH_MM / number
            raise UnreadableQuantity(
                f"No. {numbered[1]} is {french:.2f} mm by the French inch and {inch:.2f} mm by the inch.",
                mend=f"Say which: 'no {numbered[1]} french' or 'no {numbered[1]} inch'.",
            )
        return (FRENCH_INCH_MM if numbered[2] == "french" else INCH_MM) / number
    per_inch = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*(?:spi|per inch|/ ?in)", plain)
    if per_inch:
        count = float(per_inch[1].replace(",", "."))
        if count <= 0:
            raise UnreadableQuantity("Stitches per inch must be more than none.", mend="Type it as 6 spi.")
        return INCH_MM / count
    return read_length(text, units)


def lea_tex(lea: float, plies: int = 1) -> float:
    """Tex (g per km) of linen thread of `lea` count in `plies` (ISO 2060 tex; 1 lea = 300 yd per lb)."""
    return 1653.5 / lea * plies


FIBRE_G_CM3 = 0.95  # of waxed thread, air between its fibres counted (from memory: 1.5 for linen, packed to two thirds)


def tex_mm(tex: float) -> float:
    """How thick a round thread of so many tex (ISO 2060, g per km) is, mm: 2 √(tex / (π ρ)), ρ in g/cm³ and tex / 1000."""
    return 2 * math.sqrt(tex / 1000 / (math.pi * FIBRE_G_CM3))


def read_thread(text: str, units: Units) -> float:
    """Thickness of thread in mm from `0.8 mm`, `270 tex`, or linen by its lea and plies, `18/4 lea`.

    Raises UnreadableQuantity.
    """
    plain = _plain(text)
    by_weight = re.fullmatch(r"(?:tex\s*(\d+(?:[.,]\d+)?)|(\d+(?:[.,]\d+)?)\s*tex)", plain)
    if by_weight:
        tex = float((by_weight[1] or by_weight[2]).replace(",", "."))
        if tex <= 0:
            raise UnreadableQuantity("A thread of no tex is no thread.", mend="Type it as 270 tex.")
        return tex_mm(tex)
    by_lea = re.fullmatch(r"(?:lea\s*(\d+)\s*/\s*(\d+)|(\d+)\s*/\s*(\d+)\s*lea)", plain)
    if by_lea:
        lea, plies = (int(k) for k in by_lea.groups() if k)
        if not lea or not plies:
            raise UnreadableQuantity(
                f"{text.strip()!r} has no thread in it.", mend="Type it as 18/4 lea: the lea, and how many plies."
            )
        return tex_mm(lea_tex(lea, plies))
    return read_length(text, units)


_READERS = {
    "thread": read_thread,
    "length": read_length,
    "fine": read_pitch,
    "leather": read_leather,
    "long": read_length,
}


def read(kind: Kind, text: str, units: Units) -> float:
    """The number, in the program's units, that `text` means for a value of this `kind`. Raises UnreadableQuantity."""
    if kind in _READERS:
        return _READERS[kind](text, units)
    found = re.fullmatch(r"([-+]?\d+(?:[.,]\d+)?)\s*(?:%|min|minutes|g|°|x|times)?", _plain(text))
    if not found:
        raise UnreadableQuantity(f"Cannot read {text.strip()!r} as a number.", mend="Type digits, as 12 or 3.5.")
    number = float(found[1].replace(",", "."))
    if kind == "percent":
        return number / 100
    return math.radians(number) if kind == "degrees" else number


def _decimal(value: float, places: int) -> str:
    text = f"{value:.{places}f}"
    if places:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text.replace("-", "\u2212")


def _inches(mm: float, fraction: int) -> str:
    parts = round(Fraction(mm) / Fraction(254, 10) * fraction)
    sign = "\u2212" if parts < 0 else ""
    whole, part = divmod(abs(parts), fraction)
    if not part:
        return f"{sign}{whole}"
    low = Fraction(part, fraction)
    return f"{sign}{whole} {low}" if whole else f"{sign}{low}"


def write(quantity: Q, units: Units, unit: bool = True) -> str:
    """The quantity as the maker reads it, with its unit unless `unit` is false.

    mm to 0.1 (`fine` to 0.01), inches as fractions, longer threads in m or inches; nothing else rounds anywhere.
    """
    kind, value = quantity
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
                number, name = (f"{value / 1000:.2f}", "m") if abs(value) >= 1000 else (_decimal(value / 10, 1), "cm")
            else:
                number, name = _inches(value, 4), "in"
        case "area":
            number, name = (f"{value / 1e4:.1f}", "dm²") if metric else (f"{value / SQUARE_FOOT_MM2:.2f}", "sq ft")
        case "percent":
            number, name = _decimal(value * 100, 1), "%"
        case "minutes":
            number, name = _time(value)
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


def _time(minutes: float) -> tuple[str, str]:
    if minutes < 60:
        return _decimal(minutes, 0), "min"
    hours = minutes / 60
    return (_decimal(hours, 1), "h") if hours < 48 else (_decimal(hours / 24, 1), "days")
