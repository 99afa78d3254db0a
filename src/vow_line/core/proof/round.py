"""Whether leather goes round what it must go round: measured on the flat pieces as they are cut, against girths."""

from dataclasses import dataclass

import numpy as np
import shapely

from ..curve import Line, Values, arc_length
from ..draft.joins import Lies
from ..draft.pieces import Piece
from ..measure.body import LimbBody, RoundBody, ShaftBody
from ..reckoning import length
from ..texts import said
from .given import TRUE_MM, Assembled, Fault, area_of, area_of_ring

MEAN_OFF = 0.008  # a piece laid flat for a limb is stretched here and shrunk there, and all in all hardly
BOWED = 0.03  # a row of such a piece is bowed: by its chord and the slope of its edges it is known so nearly
COVERS = 0.9  # of a piece what lines it covers
SHARES = np.linspace(0.0, 1.0, 25)


def goes_round(given: Assembled, lies: Lies, piece: Piece, has: Values) -> tuple[Values, list[Fault]]:
    """Leather that goes all round: as long as the girth and a whole turn, less what drawing its edges together closes."""
    shell = given.shell(lies.shell)
    if shell.holds == "body":
        if isinstance(given.body, ShaftBody):
            girth = np.interp(lies.x_mm, given.body.x_mm, given.body.girth_mm)
        elif isinstance(given.body, LimbBody):
            return _limb(given, lies, piece)
        elif isinstance(given.body, RoundBody):
            girth = np.full(len(lies.x_mm), np.pi * given.body.across_mm)
        else:
            return np.zeros(0), []
    else:
        girth = girth_of(given, shell.holds, lies)
    turned = 2 * np.pi * (piece.stock.neutral * piece.thickness_mm + lining_mm(given, piece.id))
    if shell.holds == "body" and len(has) > 1:
        # square to edges that spread the way round is an arc: their chord times β / sin β, β how far they turn from the middle
        spread = np.arctan(np.gradient(has / 2, (lies.p[:, 1] + lies.q[:, 1]) / 2))
        has = has / np.sinc(spread / np.pi)
    loose = lies.loose_mm or 0.0
    gap = has - (girth + turned) * (1 - lies.stretch) - loose / 2
    k = int(np.argmax(np.abs(gap)))
    allowed = 2 * np.pi * given.spread_mm + 2 * TRUE_MM + loose / 2
    if abs(gap[k]) <= allowed:
        return np.abs(gap) * -1 + allowed, []
    says = said("At {x} the {piece} is {d} too narrow to close round the {g} it goes round.") if gap[k] < 0 else said(
        "At {x} the {piece} is {d} too wide to close round the {g} it goes round.")  # fmt: skip
    return gap, [Fault("hold", "does-not-close", says.filled(
        x=length(float(lies.x_mm[k])), d=length(float(abs(gap[k]))), g=length(float(girth[k])), piece=piece.title
    ), lies.piece)]  # fmt: skip


def _limb(given: Assembled, lies: Lies, piece: Piece) -> tuple[Values, list[Fault]]:
    """Leather round a limb: from edge to edge at each place, with what stands open or laps, nearly as long as the girth and a
    whole turn of its own; and in all as large as what it covers, by the areas of the piece as it is cut and of the limb.
    """
    assert isinstance(given.body, LimbBody)
    assert lies.open_mm is not None
    all_round = [x for x in given.assembly.lies if (x.shell, x.how) == (lies.shell, "round")]
    panels = [x for x in all_round if x.part == lies.part]
    if lies is not panels[0]:  # all the panels that go round are one
        return np.zeros(0), []
    x, girth, needs = _girths(given, lies, piece)
    has = sum(_along_arc(panel) - _taken(given, panel) for panel in panels)
    gap, sure = has + lies.open_mm - needs, 2 * np.pi * given.spread_mm + 2 * TRUE_MM
    allowed = (lies.gives + BOWED) * girth + sure
    k = int(np.argmax(np.abs(gap) - allowed))
    whole = [panels[0], *{x.part: x for x in all_round if x.part != lies.part}.values()]
    if lies is not all_round[0]:
        mean, most = 0.0, sure  # one part of a piece may be large for what it lies on, and another small
    else:
        covers, long = (sum(ways) for ways in zip(*(_covers(given, part, piece) for part in whole), strict=True))
        area = sum(float(area_of_ring(given.assembly.piece(p.piece).outline).area) for p in panels)
        area += sum(_let_in(given, id, p.piece).area_mm2 for p in panels for id in p.let_in)
        covers *= 1 + lies.stands_off
        mean, most = (area - covers) / max(long, 1e-9), MEAN_OFF * float(girth.mean()) + sure
    if abs(gap[k]) <= allowed[k] and abs(mean) <= most:
        return np.array([most - abs(mean)]), []
    off = float(gap[k]) if abs(gap[k]) > allowed[k] else mean
    says = said("At {x} the {piece} is {d} short of going round the {g} there.") if off < 0 else said(
        "At {x} the {piece} is {d} longer than the {g} it goes round there.")  # fmt: skip
    return gap, [Fault("hold", "does-not-close", says.filled(
        x=length(float(x[k])), d=length(abs(off)), g=length(float(girth[k])), piece=piece.title
    ), lies.piece)]  # fmt: skip


def _girths(given: Assembled, lies: Lies, piece: Piece) -> tuple[Values, Values, Values]:
    """Where leather goes round a limb, the girth there with its ease, and how long the leather must be with its own turn."""
    assert isinstance(given.body, LimbBody)
    girth = given.body.girth_at(lies.x_mm) + (lies.loose_mm or 0.0)
    round_ = [x.piece for x in given.assembly.lies if (x.shell, x.how, x.part) == (lies.shell, lies.how, lies.part)]
    lining = float(np.mean([lining_mm(given, id) for id in round_]))
    return lies.x_mm, girth, girth + 2 * np.pi * (piece.stock.neutral * piece.thickness_mm + lining)


def lining_mm(given: Assembled, id: str, covers: float = COVERS) -> float:
    """How thick what lines a piece is, so great a share of it at least."""
    under = {x.piece for j in given.assembly.joins if any(y.piece == id for y in j.layers) for x in j.layers} - {id}
    whole = covers * given.assembly.piece(id).area_mm2
    linings = (p for p in map(given.assembly.piece, under) if p.stock.sort == "lining" and p.area_mm2 > whole)
    return sum(p.thickness_mm for p in linings)


def _covers(given: Assembled, lies: Lies, piece: Piece) -> tuple[float, float]:
    """How large what lies there is by the limb it covers, and how high, aslant. What is folded over has half a turn of the
    middle layer more, where it turns.
    """
    assert isinstance(given.body, LimbBody)
    assert lies.open_mm is not None
    x, girth, needs = _girths(given, lies, piece)
    # a front that lies straight leaves the back twice the slope: the mean of its square is half as much again
    rise = np.gradient(girth, x) / (2 * np.pi)
    slant = np.sqrt(1 + rise**2 * (1.5 if given.body.off_mm is None else 1.0))
    fold = np.pi / 2 * piece.thickness_mm if lies.part else 0.0
    wide = needs - lies.open_mm
    return float(np.trapezoid(wide * slant, x)) + fold * float(wide[-1]), float(np.trapezoid(slant, x)) + fold


@dataclass(frozen=True, slots=True, eq=False)
class LetIn:
    """What is let into a slit, measured on the piece: how much wider than the slit stands open it is, from its end to its tip,
    at `SHARES` of the way, and how large it is between the lines its sides lie on.
    """

    gives_mm: Values
    area_mm2: float


def _let_in(given: Assembled, id: str, into: str) -> LetIn:
    """A piece two seats of which are each sewn under a side of a slit of another, besides what else lies on it."""
    own = {seat.id: seat.line for seat in given.assembly.seats if seat.piece == id}
    lines, sides = list[Line](), list[Line]()
    for join in given.assembly.joins:
        upper = next((x for x in join.layers if x.piece == into), None)
        part = next((x.part for x in join.layers if x.piece == id and x.part in own), "")
        if upper is not None and part:
            lines.append(own[part])
            sides.append(given.assembly.line_of(upper))
    lines, sides = from_wide_end(*lines), from_wide_end(*sides)
    wide, open_ = (np.hypot(*(_at_shares(a) - _at_shares(b)).T) for a, b in (lines, sides))
    return LetIn(wide - open_, float(area_of_ring(np.concatenate([lines[0], lines[1][::-1]])).area))


def from_wide_end(one: Line, other: Line) -> list[Line]:
    """Two sides of a wedge in one sense, from its wide end."""
    if np.hypot(*(one[[0, -1]] - other[[0, -1]]).T).sum() > np.hypot(*(one[[0, -1]] - other[[-1, 0]]).T).sum():
        other = other[::-1]
    if np.hypot(*(one[-1] - other[-1])) > np.hypot(*(one[0] - other[0])):
        one, other = one[::-1], other[::-1]
    return [one, other]


def _at_shares(line: Line) -> Line:
    s = arc_length(line)
    return np.column_stack([np.interp(SHARES * s[-1], s, c) for c in line.T])


def _taken(given: Assembled, lies: Lies) -> Values | float:
    """What is sewn away at each place; where pieces are let in, as much less than nothing as they give, measured on them."""
    if lies.taken_mm is None or not lies.let_in:
        return 0.0 if lies.taken_mm is None else lies.taken_mm
    # they begin at the end at which they are said to give anything, and end where they are said to give nothing more
    there = np.flatnonzero(lies.taken_mm)
    x = lies.x_mm
    if not len(there):
        return lies.taken_mm
    end, tip = (x[0], x[min(there[-1] + 1, len(x) - 1)]) if there[0] == 0 else (x[-1], x[max(there[0] - 1, 0)])
    share = np.abs(x - end) / max(abs(float(tip - end)), 1e-9)
    return -sum(np.interp(share, SHARES, _let_in(given, id, lies.piece).gives_mm, right=0.0) for id in lies.let_in)


def _along_arc(lies: Lies) -> Values:
    """From edge to edge along an arc square to both, at each place: their chord times β / sin β, β how far they turn from the
    middle.
    """
    has = np.hypot(*(lies.q - lies.p).T)
    if len(has) < 3:
        return np.asarray(has)
    return np.asarray(has / np.sinc(np.arctan(np.gradient(has / 2, (lies.p[:, 1] + lies.q[:, 1]) / 2)) / np.pi))


def girth_of(given: Assembled, shell: str, lies: Lies) -> Values:
    """Round a core of two halves, its corners rounded: measured across its pieces, as thick as they are together."""
    halves = [given.assembly.piece(p) for p in given.shell(shell).pieces]
    thick = sum(p.thickness_mm for p in halves)
    low, high = (float(halves[0].outline[:, 1].min()), float(halves[0].outline[:, 1].max()))
    if lies.swing is None:
        v = np.clip(lies.p[:, 1], low + 0.01, high - 0.01)
        rows = np.stack([np.column_stack([np.full(len(v), u), v]) for u in (-1e4, 1e4)], axis=1)
    else:  # square to the bow: from the point it turns about, as far round as the cover has come
        about = np.array(lies.swing.about)
        round_by = np.maximum(lies.p[:, 1] - about[1], 0.01) / abs(about[0])
        out = np.column_stack([-np.sign(about[0]) * np.cos(round_by), np.sin(round_by)])
        rows = np.stack([np.tile(about, (len(out), 1)), about + 2 * abs(about[0]) * out], axis=1)
    across = [
        shapely.intersection(area_of(p), shapely.linestrings(rows * [-1.0, 1.0] if p.mirrored else rows))
        for p in halves
    ]
    wide = np.maximum(np.min([shapely.length(k) for k in across], axis=0), 2.0)
    r = lies.rounded * np.minimum(wide, thick) / 2
    return 2 * (wide - 2 * r) + 2 * (thick - 2 * r) + 2 * np.pi * r
