"""What a maker typed, read as a length, a thickness of leather, a pitch, a thread, a number, or rows of lengths."""

import math
import re
from fractions import Fraction

from .errors import UnreadableQuantity
from .quantity import FRENCH_INCH_MM, INCH_MM, Kind, Q, Units, write
from .texts import Said, tell, word

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


def _sum_of_parts(text: str, bare: str, what: Said, units: tuple[str, ...]) -> Fraction:
    plain = _plain(text)
    sign = -1 if plain.startswith("-") else 1
    rest = plain.lstrip("+-").strip()
    if not rest:
        raise UnreadableQuantity(
            tell("There is no {what} to read.", what=what), mend=tell("Type it as 92 mm or 3 5/8 in.")
        )
    if len(rest) > 40:
        raise UnreadableQuantity(
            tell("'{typed}…' is too long for a {what}.", typed=rest[:20], what=what),
            mend=tell("Type one number and its unit."),
        )
    parts = []
    while rest:
        found = _PART.match(rest)
        if not found:
            raise UnreadableQuantity(
                tell("Cannot read '{part}' in '{typed}' as a {what}.", part=rest, typed=text.strip(), what=what),
                mend=tell("Type it as 92 mm, 9.2 cm or 3 5/8 in."),
            )
        parts.append(found)
        rest = rest[found.end() :]
    total, last = Fraction(0), Fraction(10**9)
    for found in parts:
        unit = found["unit"] or bare
        if unit not in units:
            raise UnreadableQuantity(
                tell(
                    "'{unit}' in '{typed}' is not a unit of {what}.", unit=found["unit"], typed=text.strip(), what=what
                ),
                mend=tell("Use {units}.", units=", ".join(units)),
            )
        if found["dec"]:
            number = Fraction(found["dec"].replace(",", "."))
        elif int(found["den"]) == 0:
            raise UnreadableQuantity(
                tell("'{typed}' divides by zero.", typed=text.strip()), mend=tell("Mend the lower number.")
            )
        else:
            number = int(found["whole"] or 0) + Fraction(int(found["num"]), int(found["den"]))
        if _UNIT_MM[unit] >= last:
            raise UnreadableQuantity(
                tell("'{typed}' reads as more than one {what}.", typed=text.strip(), what=what),
                mend=tell("Type one, as 1' 2 1/2\" or 92 mm."),
            )
        last = _UNIT_MM[unit]
        total += number * last
    return sign * total


LENGTH, THICKNESS = word("length", "what was typed"), word("thickness", "what was typed")
_LENGTH_UNITS = ("mm", "cm", "m", "in", "inch", "inches", '"', "ft", "foot", "feet", "'")


def read_length(text: str, units: Units) -> float:
    """Length in mm from text such as `3 5/8`, `3-5/8"`, `1' 2 1/2"`, `92mm`, `31,5 mm`, `9.2 cm`.

    A bare number is in `units.length`. Raises UnreadableQuantity naming the part that could not be read.
    """
    return float(_sum_of_parts(text, units.length, LENGTH, _LENGTH_UNITS))


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
        ends = [float(_sum_of_parts(f"{as_range[i]} {unit}", unit, THICKNESS, kinds)) for i in (1, 2)]
        return min(ends), max(ends)
    one = float(_sum_of_parts(text, units.leather, THICKNESS, kinds))
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
            raise UnreadableQuantity(
                tell("An iron numbered {number} has no pitch.", number=numbered[1]),
                mend=tell("Type its number, as no 8."),
            )
        if not numbered[2]:
            french, inch = FRENCH_INCH_MM / number, INCH_MM / number
            raise UnreadableQuantity(
                tell(
                    "No. {number} is {french} mm by the French inch and {inch} mm by the inch.",
                    number=numbered[1],
                    french=f"{french:.2f}",
                    inch=f"{inch:.2f}",
                ),
                mend=tell("Say which: 'no {number} french' or 'no {number} inch'.", number=numbered[1]),
            )
        return (FRENCH_INCH_MM if numbered[2] == "french" else INCH_MM) / number
    per_inch = re.fullmatch(r"(\d+(?:[.,]\d+)?)\s*(?:spi|per inch|/ ?in)", plain)
    if per_inch:
        count = float(per_inch[1].replace(",", "."))
        if count <= 0:
            raise UnreadableQuantity(tell("Stitches per inch must be more than none."), mend=tell("Type it as 6 spi."))
        return INCH_MM / count
    return read_length(text, units)


def lea_tex(lea: float, plies: int = 1) -> float:
    """Tex (g per km) of linen thread of `lea` count in `plies` (ISO 1144 tex; 1 lea = 300 yd per lb)."""
    return 1653.5 / lea * plies


FIBRE_G_CM3 = 0.95  # of waxed thread, air between its fibres counted (from memory: 1.5 for linen, packed to two thirds)


def tex_mm(tex: float) -> float:
    """How thick a round thread of so many tex (ISO 1144, g per km) is, mm: 2 √(tex / (π ρ)), ρ in g/cm³ and tex / 1000."""
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
            raise UnreadableQuantity(tell("A thread of no tex is no thread."), mend=tell("Type it as 270 tex."))
        return tex_mm(tex)
    by_lea = re.fullmatch(r"(?:lea\s*(\d+)\s*/\s*(\d+)|(\d+)\s*/\s*(\d+)\s*lea)", plain)
    if by_lea:
        lea, plies = (int(k) for k in by_lea.groups() if k)
        if not lea or not plies:
            raise UnreadableQuantity(
                tell("'{typed}' has no thread in it.", typed=text.strip()),
                mend=tell("Type it as 18/4 lea: the lea, and how many plies."),
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
        raise UnreadableQuantity(
            tell("Cannot read '{typed}' as a number.", typed=text.strip()), mend=tell("Type digits, as 12 or 3.5.")
        )
    number = float(found[1].replace(",", "."))
    if kind == "percent":
        return number / 100
    return math.radians(number) if kind == "degrees" else number


def write_rows(rows: tuple[tuple[float, ...], ...], units: Units) -> str:
    """Rows of lengths in mm, a row to a line."""
    return "\n".join("; ".join(write(Q("fine", v), units) for v in row) for row in rows)


def read_rows(text: str, width: int, units: Units) -> tuple[tuple[float, ...], ...]:
    """Rows of so many lengths each, in mm. Raises UnreadableQuantity, naming the line."""
    rows = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        parts = [p for p in line.split(";") if p.strip()]
        if len(parts) != width:
            raise UnreadableQuantity(
                tell("Line {n} has {m} numbers, not {width}.", n=str(number), m=str(len(parts)), width=str(width)),
                mend=tell("Put ; between them."),
            )
        rows.append(tuple(read_length(part, units) for part in parts))
    return tuple(rows)


def write_rings(rings: tuple[tuple[tuple[float, float], ...], ...], units: Units) -> str:
    """Rings of points, an empty line between them."""
    return "\n\n".join(write_rows(ring, units) for ring in rings)


def read_rings(text: str, units: Units) -> tuple[tuple[tuple[float, ...], ...], ...]:
    """Rings of points, an empty line between them. Raises UnreadableQuantity."""
    blocks = "\n".join(line.strip() for line in text.splitlines()).split("\n\n")
    return tuple(ring for ring in (read_rows(block, 2, units) for block in blocks) if ring)
