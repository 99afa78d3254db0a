"""Whether there is room for the body at every station, and on its way in and out: the leather there is, measured on the flat
pieces as they are cut, against the hull of what it must go round, by GEOS, with its turns.
"""

from dataclasses import dataclass

import numpy as np
import shapely

from ..curve import Line, Mask, Values, thinned
from ..draft.joins import Lies, Swing
from ..draft.pieces import Piece
from ..measure.body import Body, LongBody, MouldedBody, ToolBody
from ..memory import remembered
from ..reckoning import count, length
from ..texts import said
from .given import THIN_MM, TRUE_MM, Assembled, Fault, Result, area_of, area_of_ring, cut_of, from_line, solid_of
from .round import goes_round

FIRM = 0.03  # a mouth may be so much tighter than what must pass it (common practice); a cutting edge passes freely
STAND_OFF_MM = (
    0.0,
    0.15,
    0.4,
    0.8,
    1.4,
    2.4,
    4.0,
)  # how far off the body a seam may come to lie, tried one after another
WALL_MM = 0.6  # where the body lies must begin and end so near to a fold or a wall
GAP_MM = 12.0  # stations further apart than this leave the body unlooked at between them
APART_MM = 6.0  # sections are looked at as near to each other as this
CHANGED_MM = 0.5  # and as soon as they are so much larger or smaller
STEP_MM = 2.0  # along a way out that goes across
MOST_PLACES = 30  # of those where the body is said to lie are looked at, evenly, the ends among them
SWINGS = 16  # steps in which a thing is turned out of a hollow
MOST_STEPS = 40  # of it: what has gone so far has left what is sewn behind


@dataclass(frozen=True, slots=True, eq=False)
class Sections:
    """Sections of a body across its axis: `x (n,)`, the upper half of each `y`, `z (n, m)`, z as high as it is in all; where it
    has a cutting edge.
    """

    x: Values
    y: Values
    z: Values
    sharp: Values


@remembered("part")
def sections_of(body: Body) -> Sections | None:
    """The sections of a body that has some, no farther apart than `APART_MM`, and wherever they change by much."""
    if isinstance(body, LongBody):
        high, sharp = 2 * body.z_mm, body.blade.astype(float)
    elif isinstance(body, MouldedBody):
        high, sharp = body.z_mm, np.zeros(len(body.x_mm))
    else:
        return None
    x, y = body.x_mm, body.y_mm
    size = np.column_stack([y.min(axis=1), y.max(axis=1), high.max(axis=1)])
    kept = [0]
    for k in range(1, len(x) - 1):
        changed = (
            np.abs(size[k] - size[kept[-1]]).max() > CHANGED_MM or np.abs(size[k + 1] - size[k]).max() > 2 * CHANGED_MM
        )
        if x[k] - x[kept[-1]] >= APART_MM or changed or sharp[k] != sharp[kept[-1]]:
            kept.append(k)
    kept.append(len(x) - 1)
    return Sections(x[kept], y[kept], high[kept], sharp[kept])


@remembered("piece")
def half_needs(body: Body, from_x: float, welt_mm: float, neutral_mm: float, share: float) -> Values | None:
    """The least flat length `(n,)` of leather that goes from a straight fold over each section from `from_x` on, down to a welt
    that lies at its edge or farther off; nan for sections before. `welt_mm` is all that lies between; `share` of the height and
    of the welt is this half's. Leather that is moulded bends down to the welt and back onto it, so that those turns cancel.
    """
    s = sections_of(body)
    if s is None:
        return None
    deep = s.x >= from_x - 1e-6
    needs = np.full(len(s.x), np.nan)
    if not deep.any():
        return needs
    fold = float(s.y[deep].min())
    y, z = np.maximum(s.y[deep] - fold, 0.0), s.z[deep] * share
    half, bends_back = welt_mm * share, isinstance(body, MouldedBody)
    edge = y.max(axis=1)
    least = _half(y, z, edge, half, neutral_mm, bends_back)
    blunt = (
        np.where(y > edge[:, None] - STAND_OFF_MM[-1], z, 0.0).max(axis=1) > half
    )  # it stands up high beside the welt
    if blunt.any():
        n = len(STAND_OFF_MM)
        seams = (edge[blunt] + np.array(STAND_OFF_MM)[:, None]).ravel()
        off = _half(np.tile(y[blunt], (n, 1)), np.tile(z[blunt], (n, 1)), seams, half, neutral_mm, bends_back)
        least[blunt] = off.reshape(n, -1).min(axis=0)
    needs[deep] = least
    return needs


def _half(y: Values, z: Values, seam_y: Values, half: float, neutral_mm: float, bends_back: bool) -> Values:
    """Half the hull of each section mirrored about the middle plane, the fold and the welt's corners, less the welt's face; and
    what the leather's turn about it takes.
    """
    n, m = y.shape
    points = np.zeros((n, 2 * m + 3, 2))
    points[:, :m, 0], points[:, :m, 1] = y, z
    points[:, m : 2 * m, 0], points[:, m : 2 * m, 1] = y, -z
    points[:, 2 * m, :] = 0.0
    points[:, 2 * m + 1] = np.column_stack([seam_y, np.full(n, half)])
    points[:, 2 * m + 2] = np.column_stack([seam_y, np.full(n, -half)])
    hulls = shapely.convex_hull(shapely.linestrings(points))
    around = np.where(shapely.get_dimensions(hulls) == 2, shapely.length(hulls), 2 * shapely.length(hulls))
    apart = np.maximum(seam_y[:, None] - points[:, :m, 0], 1e-9)
    over = points[:, :m, 1] - half
    fall = np.arctan2(over, apart)
    from_fold = np.arctan2(-half, np.maximum(seam_y, 1e-9))
    falls = np.maximum(fall.max(axis=1), from_fold)
    return (around - 2 * half) / 2 + neutral_mm * (np.pi / 2 + falls * (not bends_back))


@remembered("piece")
def face_needs(body: Body, welt_mm: float, share: float) -> Values | None:
    """The least length `(n,)` of a face that goes from seam to seam over each section; where it bends down to the seam and back
    onto the welt, its turns cancel.
    """
    s = sections_of(body)
    if s is None:
        return None
    z, half = s.z * share, welt_mm * share
    low, high = s.y.min(axis=1), s.y.max(axis=1)
    n, m = s.y.shape
    points = np.zeros((n, m + 4, 2))
    points[:, :m, 0], points[:, :m, 1] = s.y, np.maximum(z, half)
    for k, (at, up) in enumerate(((low, half), (high, half), (high, -1000.0), (low, -1000.0))):
        points[:, m + k, 0], points[:, m + k, 1] = at, up
    hulls = shapely.convex_hull(shapely.linestrings(points))
    legs = 2 * (1000.0 + half)
    return np.where(shapely.get_dimensions(hulls) == 2, shapely.length(hulls) - legs - (high - low), high - low)


def _welt_at(given: Assembled, lies: Lies, points: Line) -> Values:
    """How thick what lies between is `(n,)` where the body's place ends, all of it together."""
    thick = np.zeros(len(points))
    for shell, joins in given.closing:
        if shell.id != lies.shell:
            continue
        for join in joins:
            seam = given.line(join.id)
            if seam is None:
                continue
            own = next((k for k, x in enumerate(join.layers) if x.piece == lies.piece and not x.between), None)
            if own is None or seam.placed[own].along is not None:
                own = 0
            for k, layer, piece in given.between(join):
                if layer.from_mm > 0 or layer.turn is not None:
                    continue
                at = seam.placed[k].onto(seam.placed[own].back(points), np.zeros(0))
                here = np.full(len(points), piece.thickness_mm)
                for skive in piece.skives:
                    here = np.minimum(here, skive.at(at))
                thick += here * layer.count
    return thick


def _lining(given: Assembled, piece: Piece, points: Line) -> Values:
    """How thick what is glued inside a piece, as large as it there, lies at points of it `(n,)`: a fold goes round that too."""
    thick = np.zeros(len(points))
    for join in given.assembly.joins:
        if any(x.piece == piece.id and x.part for x in join.layers):
            for layer in join.layers:
                inner = given.assembly.piece(layer.piece)
                if not layer.part and any(e.open == "flush" for e in inner.edges):
                    here = np.full(len(points), inner.thickness_mm)
                    for skive in inner.skives:
                        here = np.minimum(here, skive.at(points))
                    thick += here * shapely.contains_xy(area_of(inner), *points.T)
    return thick


def _walls(given: Assembled, lies: Lies) -> list[Line]:
    """What bounds the pocket on a piece, besides its folds: the thread; for a blade in a fold, the inner edge of the welt that
    guards the thread from it.
    """
    walls: list[Line] = []
    guarded = lies.how == "half" and isinstance(given.body, LongBody)
    for shell, joins in given.closing:
        if shell.id != lies.shell:
            continue
        for join in joins:
            seam = given.line(join.id)
            for own, layer in enumerate(join.layers):
                if seam is None or layer.piece != lies.piece or layer.between:
                    continue
                placed = seam.placed[own]
                inner = [
                    placed.onto(seam.placed[k].back(e.line), np.zeros(0))
                    for k, between, piece in given.between(join) if guarded and placed.along is None
                    and between.turn is None and between.from_mm == 0 for e in piece.edges if e.id != between.part
                ]  # fmt: skip
                thread = placed.along if placed.along is not None else placed.onto(seam.line, np.zeros(0))
                walls += inner or [thread]
    return [thinned(w, THIN_MM) for w in walls]


def places(given: Assembled) -> Result:
    """Where the body is said to lie: on its piece, from a fold or a wall to a wall, no station of it left out."""
    faults: list[Fault] = []
    n = 0
    walls: dict[tuple[str, str, str], list[Line]] = {}
    for lies in given.assembly.lies:
        piece = given.assembly.piece(lies.piece)
        n += len(lies.x_mm)
        if lies.how == "hollow":
            at_p = at_q = [np.concatenate([s.ring, s.ring[:1]]) for s in piece.skives if s.thick == s.thin]
        elif lies.how == "round":
            at_p = at_q = [cut_of(piece), *_walls(given, lies)]
        else:
            key = (lies.shell, lies.piece, lies.how)
            at_q = walls[key] = walls[key] if key in walls else _walls(given, lies)
            at_p = list(piece.folds) if lies.how == "half" else at_q
        m = len(lies.x_mm)
        some = np.arange(m) if m <= MOST_PLACES else np.linspace(0, m - 1, MOST_PLACES).round().astype(int)
        for points, bounds in ((lies.p[some], at_p), (lies.q[some], at_q)):
            off = from_line(points, *bounds)
            k = int(np.argmax(off))
            if off[k] > WALL_MM:
                at = float(lies.x_mm[some[k]])
                faults.append(Fault("hold", "lies-astray", said(
                    "On the {piece} the body is said to lie {d} away from what should bound it, {at} along.",
                    d=length(float(min(off[k], 1e4))), at=length(at), piece=piece.title), lies.piece))  # fmt: skip
        points = np.concatenate([lies.p[some], lies.q[some]])
        outside = from_line(points[~shapely.contains_xy(solid_of(piece), *points.T)], cut_of(piece))
        if outside.max(initial=0.0) > WALL_MM:
            faults.append(Fault("hold", "lies-outside", said(
                "The body is said to lie {d} outside the {piece}.", d=length(float(outside.max())), piece=piece.title),
                lies.piece))  # fmt: skip
    faults += _whole(given)
    return Result(said("{n} stations between their walls", n=count(n)), count(n), tuple(faults), n)


def _whole(given: Assembled) -> list[Fault]:
    """No part of the body between the mouth and its end is left out."""
    s = sections_of(given.body) if given.body else None
    there: dict[tuple[str, str, str], list[Values]] = {}
    for lies in given.assembly.lies:
        shell = given.shell(lies.shell)
        if s is not None and shell.holds == "body" and shell.way == "along":
            there.setdefault((lies.shell, lies.piece, lies.part), []).append(lies.x_mm)
    faults = []
    for (_, id, _), ways in there.items():
        x, piece = np.concatenate(ways), given.assembly.piece(id)
        assert s is not None
        steps = np.append(np.diff(x), s.x[-1] - x[-1]) if len(x) else np.ptp(s.x, keepdims=True)
        if steps.max() > GAP_MM or steps[:-1].min(initial=0.0) < 0:
            faults.append(Fault("hold", "station-left-out", said(
                "On the {piece} nothing says where the body lies over {d} of it.", d=length(float(steps.max())),
                piece=piece.title), id))  # fmt: skip
    return faults


def room(given: Assembled) -> Result:
    """There is leather enough at every station and for all that must pass it; not too much where that is said."""
    faults: list[Fault] = []
    least = np.inf
    for lies in given.assembly.lies:
        gaps, here = _room(given, lies)
        faults += here
        if len(gaps):
            least = min(least, float(gaps.min()))
    if not np.isfinite(least):
        return Result(said("nothing goes round a body here"), length(0.0), (), 0)
    return Result(said("at the tightest {d} to spare", d=length(least)), length(least), tuple(faults))


def _room(given: Assembled, lies: Lies) -> tuple[Values, list[Fault]]:
    piece = given.assembly.piece(lies.piece)
    has = np.hypot(*(lies.q - lies.p).T)
    match lies.how:
        case "round":
            return goes_round(given, lies, piece, has)
        case "hollow":
            return _hollow(given, lies, piece, has)
    body = given.body
    s = sections_of(body) if body is not None else None
    if body is None or s is None or not len(lies.x_mm):
        return np.zeros(0), []
    welt = _welt_at(given, lies, lies.q)
    full = float(welt.max(initial=0.0))
    neutral = piece.stock.neutral * piece.thickness_mm
    from_x = float(lies.x_mm[0])
    if lies.how == "half":
        thin, thick = (half_needs(body, from_x, w, neutral, lies.share) for w in (0.0, full))
    else:
        thin, thick = (face_needs(body, w, lies.share) for w in (0.0, full))
    assert thin is not None
    assert thick is not None
    deep = s.x >= from_x - 1e-6
    x, thin, thick, sharp = s.x[deep], thin[deep], thick[deep], s.sharp[deep] > 0
    how = welt / full if full > 0 else np.zeros(len(welt))
    needs = thin[None] + (thick - thin)[None] * how[:, None]  # each station of the pocket against each section
    if lies.how == "half":
        needs = needs + np.pi / 2 * _lining(given, piece, (lies.p + lies.q) / 2)[:, None]
    mouth = _at_the_mouth(given, lies, x, sharp)
    slack = mouth[:, None] * (FIRM * thin * ~sharp)
    after = np.clip(np.searchsorted(x, lies.x_mm), 1, len(x) - 1) if len(x) > 1 else np.zeros(len(has), int)
    share = np.clip((lies.x_mm - x[after - 1]) / np.maximum(x[after] - x[after - 1], 1e-9), 0, 1)
    rows = np.arange(len(has))
    passes = x[None] >= lies.x_mm[:, None] - 1e-6
    spare = has[:, None] - needs + slack
    own = spare[rows, after - 1] * (1 - share) + spare[rows, after] * share  # between two sections, as between them
    allowed = given.spread_mm + TRUE_MM
    faults: list[Fault] = []
    k = int(np.argmin(own))
    if own[k] < -allowed:
        faults.append(Fault("hold", "no-room", said(
            "At {x} the {piece} has {has} for the {needs} that lies there: {d} too little.",
            x=length(float(lies.x_mm[k])), has=length(float(has[k])), needs=length(float(has[k] - own[k])),
            d=length(float(-own[k])), piece=piece.title), lies.piece))  # fmt: skip
    gap = np.where(passes, spare, np.inf)
    i, j = np.unravel_index(int(np.argmin(gap)), gap.shape)
    if gap[i, j] < -allowed and own[i] >= -allowed:
        faults.append(Fault("hold", "no-way", said(
            "Drawn out, what lies at {deep} does not pass {x}: the {piece} is {d} too narrow there.",
            deep=length(float(x[j])), x=length(float(lies.x_mm[i])), d=length(float(-gap[i, j])), piece=piece.title),
            lies.piece))  # fmt: skip
    if lies.loose_mm is not None:
        loose = own - slack[rows, after]
        k = int(np.argmax(loose))
        if loose[k] > lies.loose_mm + allowed:
            faults.append(Fault("look", "too-loose", said(
                "At {x} the {piece} has {d} more than what lies there needs; {w} is wanted.",
                x=length(float(lies.x_mm[k])), d=length(float(loose[k])), w=length(lies.loose_mm), piece=piece.title),
                lies.piece))  # fmt: skip
    return np.append(own, gap.min()), faults


def _at_the_mouth(given: Assembled, lies: Lies, x: Values, sharp: Mask) -> Mask:
    """Which stations of a pocket `(n,)` are its mouth, that may be firm: all along the handle that a pocket for a blade holds,
    or else its first one.
    """
    mouth = min(float(other.x_mm[0]) for other in given.assembly.lies if other.shell == lies.shell and len(other.x_mm))
    reach = float(x[np.argmax(sharp)]) if sharp.any() else mouth
    return lies.x_mm <= max(mouth, reach) + 1e-6


def _hollow(given: Assembled, lies: Lies, piece: Piece, has: Values) -> tuple[Values, list[Fault]]:
    """A hollow as wide as all that passes it, and its share of the height deep, with the linings that lie in it."""
    s = sections_of(given.body) if given.body else None
    if s is None:
        return np.zeros(0), []
    lining = sum(given.assembly.piece(x.piece).thickness_mm for j in given.assembly.joins if any(
        k.piece == piece.id and k.part for k in j.layers) for x in j.layers if not x.part)  # fmt: skip
    wide, high = s.y.max(axis=1) - s.y.min(axis=1), s.z.max(axis=1) * lies.share
    sunk = max((piece.thickness_mm - k.to_mm for k in piece.skives if k.thick == k.thin), default=0.0)
    if lies.swing is None:
        gap = np.array([has[k] - 2 * lining - wide[s.x >= x - 1e-6].max(initial=0.0) for k, x in enumerate(lies.x_mm)])
    else:
        gap = 2 * (_turned_out(s, lies.swing, lies.x_mm, piece) - lining)
    deep = sunk - lining - high[s.x >= lies.x_mm[0] - 1e-6].max(initial=0.0)
    faults: list[Fault] = []
    allowed = given.spread_mm + TRUE_MM
    k = int(np.argmin(gap))
    if gap[k] < -allowed:
        faults.append(Fault("hold", "no-way", said(
            "At {x} the hollow of the {piece} is {d} narrower than what must pass it.",
            x=length(float(lies.x_mm[k])), d=length(float(-gap[k])), piece=piece.title), lies.piece))  # fmt: skip
    if deep < -allowed:
        faults.append(Fault("hold", "no-room", said(
            "The hollow of the {piece} is {d} too shallow.", d=length(float(-deep)), piece=piece.title),
            lies.piece))  # fmt: skip
    return np.append(gap, deep), faults


def _turned_out(s: Sections, swing: Swing, at: Values, piece: Piece) -> Values:
    """The least way `(n,)` from the body's outline, turned out of a hollow step by step, to the hollow's sides, wherever it is
    then, by its place `at (n,)` along the body; negative outside of it.
    """
    side = np.array([s.y.min(axis=1), s.y.max(axis=1)])
    about = np.array(swing.about)
    lain = np.stack([np.column_stack([y, s.x]) @ swing.turn.T + swing.shift for y in side]) - about
    ring = next(k.ring for k in piece.skives if k.thick == k.thin)
    mouth = float(ring[:, 1].min())
    walls = shapely.LineString(_below(ring, mouth))
    solid = area_of_ring(ring)
    radius = abs(about[0])
    steps = np.linspace(0.0, (float(ring[:, 1].max()) - mouth) / radius, SWINGS) * np.sign(about[0])
    least = np.full(len(at), np.inf)
    place = np.clip(np.searchsorted(at, s.x), 0, len(at) - 1)
    for angle in steps:
        c, n = np.cos(angle), np.sin(angle)
        moved = lain @ np.array([[c, n], [-n, c]]) + about
        inside = moved[..., 1] > mouth + WALL_MM
        points = moved[inside]
        far = shapely.distance(shapely.points(points), walls)
        far = np.where(shapely.contains_xy(solid, *points.T), far, -far)
        np.minimum.at(least, np.broadcast_to(place, inside.shape)[inside], far)
    return np.where(np.isfinite(least), least, least[np.isfinite(least)].min(initial=np.inf))


def _below(ring: Line, mouth: float) -> Line:
    """A hollow's sides and end, without its open mouth."""
    open_at = np.flatnonzero((ring[:, 1] < mouth + 1e-6) & (np.roll(ring[:, 1], -1) < mouth + 1e-6))
    return np.roll(ring, -int(open_at[0]) - 1, axis=0) if len(open_at) else np.concatenate([ring, ring[:1]])


def across(given: Assembled) -> Result:
    """A tool that is drawn out sideways meets nothing that is sewn between the faces."""
    faults: list[Fault] = []
    least = np.inf
    for shell, joins in given.closing:
        if shell.way != "across" or not isinstance(given.body, ToolBody):
            continue
        for join in joins:
            seam = given.line(join.id)
            for k, _, piece in given.between(join) if seam is not None else ():
                assert seam is not None
                wall = area_of_ring(seam.placed[k].back(cut_of(piece)))
                out, tool = np.array(shell.out), thinned(given.body.outline, THIN_MM)
                reach = float(np.ptp(tool @ out))
                drawn = np.arange(0.0, reach + STEP_MM, STEP_MM)[:MOST_STEPS]
                moved = shapely.polygons(tool + drawn[:, None, None] * out)
                if not shapely.is_valid(moved[0]):
                    moved = shapely.buffer(moved, 0)
                gap = shapely.distance(moved, wall)
                inside = np.zeros(len(gap))
                inside[gap == 0] = shapely.area(shapely.intersection(moved[gap == 0], wall))
                i = int(np.argmax(inside)) if inside.max() > 0 else int(np.argmin(gap))
                least = min(least, -float(np.sqrt(inside[i])) if inside[i] > 0.5 else float(gap[i]))
                if inside[i] > 0.5:
                    faults.append(Fault("hold", "no-way", said(
                        "Drawn out {d} sideways, the tool meets the {piece}.", d=length(float(drawn[i])), piece=piece.title),
                        piece.id))  # fmt: skip
    if not np.isfinite(least):
        return Result(said("nothing goes in sideways here"), length(0.0), (), 0)
    return Result(
        said("{d} clear of what is sewn between, all the way out", d=length(least)), length(least), tuple(faults)
    )
