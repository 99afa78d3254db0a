"""A tab of three to five plies: a strip turned round a bar, its end folded in between its halves, once or more."""

from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import Line, frozen
from ...drawing import Callout, Mark
from ...finding import Finding, Mend
from ...measure import Body, FittingBody
from ...quantity import Q
from ...reckoning import Reckoning, count, length, percent, reckon
from ...texts import Said, said
from ..assembly import RIVET_POST_OVER_MM, Assembly, tack_mm
from ..drafted import Draft
from ..joins import Fastener, Join, Layer, Seat, Sewing, Turn
from ..kind import KindOfPiece
from ..pieces import Craft, Edge, Piece, Punch, edged, leather
from ..strapping import PRONG_MM, TACK_MM, half_turn
from ..turned import bar_findings
from ..wrap import NEUTRAL_DRY

Size = Annotated[float, Field(gt=0, le=1000)]
LEAST_INNER_MM = 12.0  # a shorter ply inside holds nothing (from memory)
SORTS: dict[str, Said] = {"riveted": said("rivet"), "tacked": said("tack"), "posted": said("screw post")}
SAME, BACK = frozen([[1.0, 0.0], [0.0, 1.0]]), frozen([[1.0, 0.0], [0.0, -1.0]])


class FoldedTab(KindOfPiece):
    """Choices for a tab of `plies`; `length_mm` is what hangs below the bar."""

    kind: Literal["folded_tab"] = "folded_tab"
    says: ClassVar[Said] = said("folded tab")
    hint: ClassVar[Said] = said("three to five plies")
    fits: ClassVar[type[Body]] = FittingBody
    plies: Annotated[int, Field(ge=3, le=5)] = 3
    width_mm: Size = 24.0
    length_mm: Size = 60.0
    held: Literal["sewn", "riveted", "tacked", "posted"] = "sewn"
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 3.0
    from_bar_mm: Annotated[float, Field(ge=0, le=100)] = 4.0
    rivet_mm: Annotated[float, Field(gt=0, le=30)] = 4.0

    def draft(self, body: FittingBody, leather_mm: float) -> Draft:
        """The strip, its folds and what goes through all of them. Never raises."""
        turn, fold = half_turn(body.bar_mm, leather_mm, NEUTRAL_DRY), half_turn(0.0, leather_mm, NEUTRAL_DRY)
        edge, bottom, inner = self.width_mm / 2, turn / 2 + self.length_mm, self.inner_mm
        # of each ply but the first: which way the front lies on it, how far off, and its ends along the strip
        lay, ends, at = [(BACK, 0.0)], [(-turn / 2, -bottom)], -bottom
        for k in range(3, self.plies + 1):
            far = at - fold - inner
            lay.append((SAME, far - (bottom - inner)) if k % 2 else (BACK, far + bottom))
            ends.append((at - fold, far))
            at = far
        creases = [(ends[k][1] + ends[k + 1][0]) / 2 for k in range(len(ends) - 1)]
        outline, edges = edged(
            Edge(
                "front",
                said("front edge"),
                frozen([[edge, turn / 2], [edge, bottom], [-edge, bottom], [-edge, turn / 2]]),
            ),
            Edge("turn-left", said("turn"), frozen([[-edge, turn / 2], [-edge, -turn / 2]]), "turn"),
            Edge("left", said("edges of its plies"), frozen([[-edge, -turn / 2], [-edge, at]]), "flush"),
            Edge("end", said("end inside"), frozen([[-edge, at], [edge, at]]), "turn"),
            Edge("right", said("edges of its plies"), frozen([[edge, at], [edge, -turn / 2]]), "flush"),
            Edge("turn-right", said("turn"), frozen([[edge, -turn / 2], [edge, turn / 2]]), "turn"),
        )
        seats = tuple(
            Seat(f"ply-{k}", "strip", frozen([[edge, a], [edge, b], [-edge, b], [-edge, a]]))
            for k, (a, b) in enumerate(ends, 2)
        )  # fmt: skip
        layers = (
            Layer("strip", "front", said("front")),
            *(Layer("strip", s.id, said("ply {k}", k=k), turn=t, shift=(0.0, v), between=k < self.plies)
              for k, (s, (t, v)) in enumerate(zip((*seats[1:], seats[0]), (*lay[1:], lay[0]), strict=True), 2)),
        )  # fmt: skip
        line = self._line(bottom)
        punches: tuple[Punch, ...] = ()
        fasteners: tuple[Fastener, ...] = ()
        if self.held == "sewn":
            sewing = Sewing(line, self.inset_mm, margin_at="piece.margin_mm", stack_at="leather.thickness_mm",
                            begins=said("the bar"))  # fmt: skip
            join = Join("seam", said("seam"), "line", layers, sewing)
        else:
            join = Join("plies", said("plies"), "riveted", layers)
            punches, fasteners = self._through(bottom, [(SAME, 0.0), *lay])
        tells = said(
            "damp, {n} times in turn along its lines, each ply tapped flat on the one before", n=self.plies - 2
        )
        strip = Piece(
            "strip", said("strip"), outline, edges, leather(leather_mm),
            folds=(*(frozen([[-edge, s * turn / 2], [edge, s * turn / 2]]) for s in (1, -1)),
                   *(frozen([[-edge, v], [edge, v]]) for v in creases)),
            punches=punches, turns="along", crafts=(Craft(said("Fold its end in"), tells),),
        )  # fmt: skip
        return Draft(
            assembly=Assembly((strip,), (join,), seats, fasteners,
                              turns=(Turn("strip", (0, 1), join.id, has_front=body.has_front),)),
            marks=(Mark("dimension", frozen([[-edge - 5, 0], [edge + 5, 0]])),),
            callouts=self._callouts(turn, bottom, leather_mm),
            tell=partial(self._reckonings, body, leather_mm, turn, fold),
            find=lambda: (*bar_findings(body.opening_mm, body.bar_mm, self.width_mm, leather_mm, body.spread_mm),
                      *self._findings(leather_mm)),
            shown=("strip",),
            sentences=(said("Of {plies}, {held} below the bar."),),
        )  # fmt: skip

    @property
    def inset_mm(self) -> float:
        """How far in from the cut its thread lies."""
        return min(self.margin_mm, 0.4 * self.width_mm)

    @property
    def inner_mm(self) -> float:
        """How long each ply inside is: from where the tab ends to where it may lie below the bar."""
        return max(self.length_mm - self.from_bar_mm, 2 * self.inset_mm + 1.0)

    def _line(self, bottom: float) -> Line:
        """Where it is sewn, through all its plies: down its right side, along its end and up its left."""
        half, low = self.width_mm / 2 - self.inset_mm, bottom - self.inset_mm
        top = min(bottom - self.inner_mm + self.inset_mm, low - 1.0)
        return frozen([[half, top], [half, low], [-half, low], [-half, top]])

    def _through(self, bottom: float, lay: list[tuple[Line, float]]) -> tuple[tuple[Punch, ...], tuple[Fastener, ...]]:
        """Two fasteners through every ply, one above the other."""
        wide = TACK_MM if self.held == "tacked" else self.rivet_mm
        sort: Literal["rivet", "tack", "post"] = {"riveted": "rivet", "tacked": "tack", "posted": "post"}[self.held]  # type: ignore[assignment]
        title, clear = SORTS[self.held], max(PRONG_MM * wide / 2, 3.0)
        places = (bottom - self.inner_mm + clear, bottom - clear)
        punches, fasteners = [], []
        for n, v in enumerate(places, 1):
            through = []
            for ply, (way, off) in enumerate(lay, 1):
                punches.append(Punch(f"ply-{ply}-{n}", said("hole for a {sort}", sort=title),
                                     (0.0, float((np.array([0.0, v]) @ way)[1] + off)), wide))  # fmt: skip
                through.append(("strip", f"ply-{ply}-{n}"))
            fasteners.append(Fastener(f"{sort}-{n}", said("{sort} {n}", sort=title, n=n), sort, tuple(through)))
        return tuple(punches), tuple(fasteners)

    def _callouts(self, turn: float, bottom: float, leather_mm: float) -> tuple[Callout, ...]:
        edge = self.width_mm / 2
        callouts = [
            Callout("piece.length_mm", said("hangs below the bar"), "length", self.length_mm, (-edge, turn / 2), "left",
                    "strip", to=(-edge, bottom)),
            Callout("piece.width_mm", said("wide"), "length", self.width_mm, (-edge, -bottom * 0.4), "right", "strip",
                    to=(edge, -bottom * 0.4)),
            Callout("piece.from_bar_mm", said("plies inside begin, from the bar"), "length", self.from_bar_mm,
                    (edge, turn / 2), "right", to=(edge, turn / 2 + self.from_bar_mm)),
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, (-edge, -bottom * 0.6), "left", "strip"),
            Callout("piece.plies", said("plies"), "count", self.plies, (edge, -bottom), "right",
                    choices=tuple(said("{n} plies", n=n) for n in (3, 4, 5)), meant=(3, 4, 5)),
            Callout("piece.held", said("held"), "count", self.held, (edge, turn / 2), "right",
                    choices=(said("sewn"), said("riveted"), said("tacked"), said("held by screw posts")),
                    meant=("sewn", "riveted", "tacked", "posted")),
        ]  # fmt: skip
        if self.held == "sewn":
            callouts.append(Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm,
                                    (edge, bottom * 0.7), "right", "seam"))  # fmt: skip
        elif self.held != "tacked":
            callouts.append(Callout("piece.rivet_mm", said("{sort}, thick", sort=SORTS[self.held]), "length", self.rivet_mm,
                                    (0.0, bottom * 0.7), "right", "ply-1-1"))  # fmt: skip
        return tuple(callouts)

    def _reckonings(self, body: FittingBody, leather_mm: float, turn: float, fold: float) -> tuple[Reckoning, ...]:
        n = self.plies - 2
        stack = self.plies * leather_mm
        says = said("2 × {l:n} + {turn:n} half turn + {n} × ({inner:n} inside + {fold} fold)", l=length(self.length_mm),
                    turn=length(turn), n=count(n), inner=length(self.inner_mm), fold=length(fold))  # fmt: skip
        sums = [
            reckon("cut-length", said("Cut the strip"), length(2 * self.length_mm + turn + n * (self.inner_mm + fold)), says,
                   ("strip",), (said("half turn: π ({b:n} / 2 + {k} of {t}); a fold is one round nothing",
                                     b=length(body.bar_mm), k=percent(NEUTRAL_DRY), t=Q("leather", leather_mm)),)),
            reckon("thick", said("Thick"), length(stack), said("{n} × {t}", n=count(self.plies), t=length(leather_mm)),
                   ("strip",)),
            reckon("ease", said("Room in the opening"), length(body.opening_mm - self.width_mm),
                   said("{o:n} opening − {w} wide", o=length(body.opening_mm), w=length(self.width_mm)), ("strip",)),
        ]  # fmt: skip
        if self.held != "sewn":
            post, says = {
                "riveted": (stack + RIVET_POST_OVER_MM,
                            said("{s:n} stack + {p}", s=length(stack), p=length(RIVET_POST_OVER_MM))),
                "posted": (stack, said("as long as the stack")),
                "tacked": (tack_mm(stack), said("the shortest that is sold and goes 3 mm through {s}", s=length(stack))),
            }[self.held]  # fmt: skip
            sums.append(reckon("post", said("{sort}, long", sort=SORTS[self.held]), length(post), says, ("ply-1-1",)))
        return tuple(sums)

    def _findings(self, leather_mm: float) -> list[Finding]:
        """A tab too short for what is folded into it, or for what goes through it."""
        wide = 0.0 if self.held == "sewn" else TACK_MM if self.held == "tacked" else self.rivet_mm
        least = max(LEAST_INNER_MM, 2 * max(PRONG_MM * wide / 2, 3.0) + 2 * wide if wide else 4 * self.inset_mm)
        if self.length_mm - self.from_bar_mm >= least:
            return []
        fits = round(least + self.from_bar_mm, 1)
        return [Finding(
            "hold", "tab-short", "draft",
            said("Of {l} below the bar {inner} are left for a ply inside, and it takes {least}.", l=length(self.length_mm),
                 inner=length(max(self.length_mm - self.from_bar_mm, 0.0)), least=length(least)), "piece.length_mm",
            Mend(said("{fits} long", fits=length(fits)), (("piece.length_mm", fits),)),
        )]  # fmt: skip
