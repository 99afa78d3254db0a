"""Whether a case closes over its leaves, and these hold what they are for."""

import numpy as np
import shapely

from ..measure.body import ToolsBody
from ..reckoning import count, length
from ..texts import Said, said, several
from .given import TRUE_MM, Assembled, Fault, Result

OFF_MM = 2.0  # a front that meets the flap's fold within this closes as it should (from memory)


def leaved(given: Assembled) -> Result:
    """Each leaf holds the longest thing and, between its seam and its free edge, its share of all of them; it lies within the
    back of its cover, beyond the turn of the spine and short of that of the flap; closed, the front ends where the flap folds.
    """
    faults: list[Fault] = []
    least = np.inf
    for of in given.assembly.leaved if isinstance(given.body, ToolsBody) else ():
        assert isinstance(given.body, ToolsBody)
        cover, leaf = given.assembly.piece(of.cover), given.assembly.piece(of.leaf)
        seam = next(s for s in given.assembly.seams if s.id == of.seam)
        k = next(n for n, p in enumerate(seam.placed) if p.piece == of.leaf)
        plies = sum(p.thickness_mm for p in seam.plies if p.on == k)
        lying = shapely.Polygon(seam.placed[k].back(leaf.outline))
        spine, flap = (shapely.LineString(cover.folds[n]) for n in of.folds)
        sizes, turned = given.body.sizes_mm, np.pi * cover.stock.neutral * cover.thickness_mm
        within = plies + float(sizes[:, 2].max())
        turns = [(within + turned) / 2, (within + cover.thickness_mm + turned) / 2]
        wide = float(sizes[:, 1].sum()) / max(round(plies / leaf.thickness_mm), 1)
        thread = shapely.LineString(seam.line)
        far = max(thread.distance(shapely.Point(p)) for p in shapely.get_coordinates(lying))
        free = shapely.Point(shapely.get_coordinates(lying)[int(np.argmax([
            thread.distance(shapely.Point(p)) for p in shapely.get_coordinates(lying)]))])  # fmt: skip
        face = float(spine.distance(flap))
        front = float(max(spine.distance(shapely.Point(p)) for p in cover.outline if _beyond(p, cover.folds, of.folds)))
        spares: list[tuple[Said, float]] = [
            (said("high"), float(np.ptp(leaf.outline[:, 1])) - float(sizes[:, 0].max())),
            (said("wide"), far - wide), (said("spine"), float(spine.distance(lying)) - turns[0]),
            (said("flap"), float(flap.distance(free)) - turns[1]),
            (said("cover"), float(np.ptp(cover.outline[:, 1])) - float(np.ptp(leaf.outline[:, 1]))),
        ]  # fmt: skip
        least = min(least, *(spare for _, spare in spares))
        for how, spare in spares:
            if spare < -given.spread_mm - TRUE_MM:
                faults.append(Fault("hold", "leaf-no-room", said(
                    "The leaves lack {d} of room: {how}.", d=length(-spare), how=how), of.leaf))  # fmt: skip
        off = (front - turns[0]) - (face - turns[0] - turns[1])
        if abs(off) > OFF_MM:
            faults.append(Fault("hold", "case-open", said(
                "Closed, the front ends {d} {how} the fold of the flap.", d=length(abs(off)),
                how=said("beyond") if off > 0 else said("short of")), of.cover))  # fmt: skip
        at = {k.id: np.array(k.centre) for k in cover.punches}
        for fastener in given.assembly.fasteners:
            if len(fastener.through) != 2 or any(piece != cover.id for piece, _ in fastener.through):
                continue
            hole, post = (at[id] for _, id in fastener.through)
            lies = (
                float(spine.distance(shapely.Point(post))) - turns[0],
                float(flap.distance(shapely.Point(hole))) - turns[1],
            )
            missed = float(np.hypot(sum(lies) - (face - turns[0] - turns[1]), hole[1] - post[1]))
            if missed > OFF_MM:
                faults.append(Fault("hold", "flap-off", said(
                    "Closed, the flap's hole lies {d} from its {fastener}.", d=length(missed), fastener=fastener.title),
                    of.cover))  # fmt: skip
    n = len(given.assembly.leaved)
    if not n:
        return Result(said("no leaves here"), length(0.0), (), 0)
    return Result(several("{n} case, {d} to spare at the least", "{n} cases, {d} to spare at the least", n=count(n),
                          d=length(least)), length(least), tuple(faults), n)  # fmt: skip


def _beyond(point: np.ndarray, folds: tuple[np.ndarray, ...], pair: tuple[int, int]) -> bool:
    """Whether a point lies on the other side of the first fold than the second does."""
    (a, b), other = folds[pair[0]][[0, -1]], folds[pair[1]].mean(axis=0)
    way = b - a
    side = [float(way[0] * (p - a)[1] - way[1] * (p - a)[0]) for p in (point, other)]
    return side[0] * side[1] < 0
