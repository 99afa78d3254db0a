"""Closed by hook and loop tape on a lap, in short lengths."""

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from .....curve import Line, frozen
from .....drawing import Callout
from .....finding import Finding, Mend
from .....reckoning import Reckoning, count, length, reckon
from .....texts import Said, said
from ....joins import Join, Layer, Seat, Sewing
from ....pieces import Edge, Piece, Stock, edged
from ..closure import Fitted, Lapped, point, way_at
from ..wrap import Wrap

TAPE_MM = 1.2  # thick, of either tape (from memory)
SEAM_IN_MM = 2.5  # it is sewn so far in from its edges (from memory)
BESIDE_MM = 3.0  # leather beside it on either side of the lap (from memory)
APART_MM = 4.0  # lengths stand so far apart at the least
FLIP = np.array([[1.0, 0.0], [0.0, -1.0]])


class Hooked(Lapped):
    """Lengths of tape `long_mm` by `tape_mm` along the middle of the lap: hooks under the left edge, loops on the right."""

    by: Literal["hooked"] = "hooked"
    says: ClassVar[Said] = said("by hook and loop on a lap")
    usual_mm: ClassVar[float] = 60.0
    spacing_mm: Annotated[float, Field(ge=5, le=300)] = 60.0
    ends_mm: Annotated[float, Field(gt=0, le=300)] = 28.0
    tape_mm: Annotated[float, Field(ge=8, le=100)] = 20.0
    long_mm: Annotated[float, Field(ge=8, le=300)] = 40.0

    @property
    def wide_mm(self) -> float:
        """Its length, and a gap."""
        return self.long_mm + APART_MM

    def fitted(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> Fitted:
        """The tapes, sewn on all round."""
        pieces, seats, joins = [], list[Seat](), []
        half = np.array([self.long_mm / 2, self.tape_mm / 2])
        corners = np.array([[-1, 1], [1, 1], [1, -1], [-1, -1]])
        inset = min(SEAM_IN_MM, 0.25 * self.tape_mm, 0.25 * self.long_mm)
        for id, title, on, row, runs, under in (
            ("hooks", said("hook tape"), laid.first, rows[0], laid.runs(laid.closing[0]), True),
            ("loops", said("loop tape"), laid.last, rows[1], laid.runs(laid.closing[1]), False),
        ):
            outline, edges = edged(Edge("around", said("around"), frozen(corners * half + half), "free"))
            pieces.append(Piece(id, title, outline, edges, Stock(id, title, TAPE_MM, "lining"), count=len(row)))
            frames = [(_along(way_at(runs, at)), at) for at in row]
            seats += [
                Seat(f"{id}-{k}", on.id, frozen((corners * half) @ turn.T + at))
                for k, (turn, at) in enumerate(frames, 1)
            ]
            turn, at = frames[0]
            shift = -(at @ turn)
            own = turn @ FLIP if under else turn
            tape = Layer(id, "", title, turn=frozen(own), shift=point((shift @ FLIP if under else shift) + half))
            wrap = Layer(on.id, f"{id}-1", on.title)
            again = tuple((frozen(turn @ other.T), point(shift @ other.T + to)) for other, to in frames[1:])
            joins.append(Join(
                id, title, "line", (wrap, tape),
                Sewing(frozen((corners * (half - inset)) @ turn.T + at), inset, stack_at="leather.thickness_mm", closed=True,
                       begins=said("a corner")), again=again,
            ))  # fmt: skip
        return Fitted(pieces=tuple(pieces), seats=tuple(seats), joins=tuple(joins))

    def callouts(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Callout, ...]:
        """The tape."""
        return (
            *super().callouts(laid, rows),
            Callout("piece.closed.tape_mm", said("tape, wide"), "length", self.tape_mm, (0.0, 0.0), "left", on="hooks",
                    to=(0.0, self.tape_mm)),
            Callout("piece.closed.long_mm", said("lengths of tape"), "length", self.long_mm, (0.0, self.tape_mm), "right",
                    on="hooks", to=(self.long_mm, self.tape_mm)),
        )  # fmt: skip

    def reckonings(self, laid: Wrap, rows: tuple[Line, Line], leather_mm: float) -> tuple[Reckoning, ...]:
        """How much tape."""
        n = len(rows[0])
        return (reckon("tape", said("Tape, of either sort"), length(n * self.long_mm),
                       said("{n} × {l}", n=count(n), l=length(self.long_mm)), ("closures",)),)  # fmt: skip

    def findings(self, laid: Wrap, rows: tuple[Line, Line]) -> tuple[Finding, ...]:
        """A lap narrower than its tape; a length that leaves the piece at its ends."""
        found = list(super().findings(laid, rows))
        least = self.tape_mm + 2 * BESIDE_MM
        if self.lap_mm < least:
            found.append(Finding(
                "hold", "lap-narrow", "draft",
                said("A lap of {l} is too narrow for tape {t} wide: {least} hold it.", l=length(self.lap_mm),
                     t=length(self.tape_mm), least=length(least)), "piece.closed.lap_mm",
                Mend(said("wider"), (("piece.closed.lap_mm", float(np.ceil(least))),)),
            ))  # fmt: skip
        if self.ends_mm < self.long_mm / 2 + BESIDE_MM:
            found.append(Finding(
                "hold", "tape-out", "draft",
                said("Lengths of {l} whose middle stands {e} from the end reach past it.", l=length(self.long_mm),
                     e=length(self.ends_mm)), "piece.closed.ends_mm",
                Mend(said("farther in"), (("piece.closed.ends_mm", float(np.ceil(self.long_mm / 2 + BESIDE_MM))),)),
            ))  # fmt: skip
        return tuple(found)


def _along(down: Line) -> Line:
    """The ways along a line, up, and across it, as columns."""
    way = -down
    return np.column_stack([way, [-way[1], way[0]]])
