"""What is shown and said of an end that is turned round a bar, whichever piece it belongs to."""

from ..drawing import Callout
from ..finding import Finding, Mend
from ..quantity import Q
from ..reckoning import Reckoning, length, percent, reckon
from ..texts import said
from .assembly import CLENCH_MM, RIVET_POST_OVER_MM, tack_mm
from .strapping import OVER_SLOT_MM, Held, Lap, half_turn
from .wrap import NEUTRAL_DRY

RUNS_MM = 1.0  # a strap a millimetre narrower than its opening runs through (from memory)
MOST_BEND = 0.8  # the outer fibres round a bar thinner than this allows crack when dry (from memory)
LEAST_SEAM_MM = 12.0  # a lap holds by a seam so long at least, or by two rivets so far apart (from memory)
SLOT_CLEAR_MM = 4.0  # holes clear of a slot for a tongue (from memory)
CLEAR_OF_SLOT_MM = OVER_SLOT_MM + SLOT_CLEAR_MM
HELD = (said("sewn"), said("sewn in a box with a cross"), said("riveted"), said("tacked and clenched"))
MEANT: tuple[Held, ...] = ("sewn", "boxed", "riveted", "tacked")


def lap_callouts(
    at: str, lap: Lap, bar_mm: float, wide_mm: float, leather_mm: float, *, tongue: bool = False
) -> tuple[Callout, ...]:
    """The values of a first end turned round its bar; held in another way than sewn, it begins clear of a slot for a tongue."""
    edge, turn = wide_mm / 2, half_turn(bar_mm, leather_mm, NEUTRAL_DRY)
    far = -turn - lap.long_mm
    callouts = [
        Callout(f"{at}.long_mm", said("laid back"), "length", lap.long_mm, (far, -edge), "left", "strap", to=(-turn, -edge)),
        Callout(at, said("the turn"), "count", lap, (0.0, edge), "right", choices=HELD,
                meant=tuple(_held(lap, held, tongue) for held in MEANT)),
        Callout(f"{at}.from_bar_mm", said("begins, from the bar"), "length", lap.from_bar_mm, (0.0, edge), "right",
                to=(lap.from_bar_mm, edge)),
        Callout(f"{at}.skive_mm", said("skived to half over"), "length", lap.skive_mm, (far, edge), "right", "skive",
                to=(far + lap.skive_mm, edge)),
    ]  # fmt: skip
    if lap.held == "riveted":
        callouts.append(Callout(f"{at}.rivet_mm", said("rivets, thick"), "length", lap.rivet_mm, (lap.from_bar_mm, -edge),
                                "left", "first-rivet-1"))  # fmt: skip
    return tuple(callouts)


def _held(lap: Lap, held: Held, tongue: bool) -> Lap:
    """A lap held in a way; the same where it is."""
    if held == lap.held:
        return lap
    begins = max(lap.from_bar_mm, CLEAR_OF_SLOT_MM) if tongue and held != "sewn" else lap.from_bar_mm
    return lap.model_copy(update={"held": held, "from_bar_mm": begins})


def lap_reckonings(lap: Lap, leather_mm: float) -> tuple[Reckoning, ...]:
    """How long what goes through a lap must be, where it is not sewn."""
    stack = 2 * leather_mm
    if lap.held == "riveted":
        return (reckon("post", said("Rivet post"), length(stack + RIVET_POST_OVER_MM),
                       said("2 × {t:n} stack + {p}", t=length(leather_mm), p=length(RIVET_POST_OVER_MM)),
                       ("first-rivet-1",)),)  # fmt: skip
    if lap.held == "tacked":
        return (reckon("tack", said("Tacks"), length(tack_mm(stack)),
                       said("2 × {t:n} stack + {c} to clench, as such are sold", t=length(leather_mm), c=length(CLENCH_MM)),
                       ("first-tack-1",)),)  # fmt: skip
    return ()


def bar_findings(
    opening_mm: float, bar_mm: float, wide_mm: float, leather_mm: float, spread_mm: float
) -> tuple[Finding, ...]:
    """What is wrong between a strap and the bar it turns round."""
    findings: list[Finding] = []
    if opening_mm - wide_mm < spread_mm:
        findings.append(Finding(
            "hold", "strip-too-wide", "draft",
            said("A strap {w} wide does not go through an opening of {o}.", w=length(wide_mm), o=length(opening_mm)),
            "piece.width_mm",
            Mend(said("as wide as runs"), (("piece.width_mm", max(round(opening_mm - RUNS_MM, 1), 1.0)),)),
        ))  # fmt: skip
    elif wide_mm < opening_mm / 2:
        findings.append(Finding(
            "look", "strap-narrow", "draft",
            said("A strap {w} wide slips about in an opening of {o}.", w=length(wide_mm), o=length(opening_mm)),
            "piece.width_mm", Mend(said("as wide as runs"), (("piece.width_mm", max(round(opening_mm - RUNS_MM, 1), 1.0)),)),
        ))  # fmt: skip
    strain = (1 - NEUTRAL_DRY) * leather_mm / (bar_mm / 2 + NEUTRAL_DRY * leather_mm)
    if strain > MOST_BEND:
        findings.append(Finding(
            "look", "bar-thin", "draft",
            said("Leather of {t} turned round a bar of {b} stretches its grain by {s}: skive the turn, or turn it damp.",
                 t=Q("leather", leather_mm), b=length(bar_mm), s=percent(strain)), "leather.thickness_mm",
        ))  # fmt: skip
    return tuple(findings)


def lap_findings(at: str, lap: Lap, room_mm: float, *, tongue: bool = False) -> tuple[Finding, ...]:
    """What is wrong with a lap where `room_mm` of the strap lie free for it, a slot for a tongue in its turn or none."""
    findings: list[Finding] = []
    clear = CLEAR_OF_SLOT_MM
    if tongue and lap.held != "sewn" and lap.from_bar_mm < clear:
        findings.append(Finding(
            "hold", "held-over-slot", "draft",
            said("Begun {f} from the bar, what holds the lap runs into the slot for the tongue; {clear} clears it.",
                 f=length(lap.from_bar_mm), clear=length(clear)), f"{at}.from_bar_mm",
            Mend(said("clear of the slot"), ((f"{at}.from_bar_mm", clear),)),
        ))  # fmt: skip
    if lap.long_mm - lap.from_bar_mm < LEAST_SEAM_MM:
        findings.append(Finding(
            "hold", "lap-short", "draft",
            said("A lap of {l} that begins {f} from the bar leaves {d} to hold it by; {least} is the least.",
                 l=length(lap.long_mm), f=length(lap.from_bar_mm), d=length(max(lap.long_mm - lap.from_bar_mm, 0.0)),
                 least=length(LEAST_SEAM_MM)), f"{at}.long_mm",
            Mend(said("50 mm, as usual"), ((f"{at}.long_mm", 50.0), (f"{at}.from_bar_mm", 4.0))),
        ))  # fmt: skip
    if lap.long_mm > room_mm:
        findings.append(Finding(
            "hold", "lap-long", "draft",
            said("A lap of {l} reaches farther than the {d} there are.", l=length(lap.long_mm), d=length(room_mm)),
            f"{at}.long_mm", Mend(said("as far as there is room"), ((f"{at}.long_mm", max(round(room_mm - 1, 0), 1.0)),)),
        ))  # fmt: skip
    if lap.skive_mm > lap.long_mm:
        findings.append(Finding(
            "look", "skive-long", "draft",
            said("Skived over {s}, the lap of {l} is thin where it turns.", s=length(lap.skive_mm), l=length(lap.long_mm)),
            f"{at}.skive_mm", Mend(said("16 mm, as usual"), ((f"{at}.skive_mm", 16.0),)),
        ))  # fmt: skip
    return tuple(findings)
