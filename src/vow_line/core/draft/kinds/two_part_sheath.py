"""The sheath in two parts: front, back and a welt all round between them, for a blade with two edges, or one too thick or too
curved to fold leather about.
"""

from dataclasses import replace
from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import frozen
from ...drawing import Callout, Label, Mark
from ...finding import Finding, Mend
from ...measure import Body, LongBody
from ...quantity import Q
from ...reckoning import Reckoning, length, percent, reckon
from ...texts import Said, said
from ..assembly import Assembly
from ..drafted import Draft, Section
from ..draw_out import GRADES, squeeze_grade
from ..joins import Goes, Join, Seat, Shell
from ..kind import KindOfPiece
from ..loop import BeltLoop, carried, hung, loop_choices, loop_findings
from ..pieces import Piece, Punch
from ..strap import LAP_MM, POST_MM, strap_fasteners, stud_strap
from ..toe_guard import toe_guard
from ..two_faces import Faces, between_sides, cut_across_faces, side_of, two_faces
from ..wrap import NEUTRAL_DRY, NEUTRAL_FORMED, flat_length

SENTENCES = (
    said("With {welts} between, the mouth {mouth}; worn on the {worn} from {loop}, the leather formed {formed}."),
)
LEAST_EDGE_TO_THREAD_MM = 3.0  # never less from the cutting edge to the thread (common practice)


class TwoPartSheath(KindOfPiece):
    """Choices for a sheath in two parts; every length in mm. `close_mm` is from the blade's edge to the thread."""

    kind: Literal["two_part_sheath"] = "two_part_sheath"
    says: ClassVar[Said] = said("sheath in two parts")
    hint: ClassVar[Said] = said("a front and a back")
    fits: ClassVar[type[Body]] = LongBody
    seat_mm: Annotated[float, Field(ge=0, le=300)] = 20.0
    close_mm: Annotated[float, Field(ge=0, le=60)] = 5.0
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 3.5
    welt_mm: Annotated[float, Field(gt=0, le=15)] = 3.2
    welts: Annotated[int, Field(ge=1, le=2)] = 1
    mouth_ease_mm: Annotated[float, Field(ge=-30, le=60)] = 1.0
    mouth: Literal["straight", "sloped", "scooped"] = "straight"
    mouth_depth_mm: Annotated[float, Field(ge=0, le=60)] = 8.0
    drain_mm: Annotated[float, Field(ge=0, le=10)] = 0.0
    strap_mm: Annotated[float, Field(ge=0, le=60)] = 0.0
    toe_guard_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    formed: bool = False
    worn: Literal["right", "left"] = "right"
    loop: BeltLoop | None = BeltLoop()

    def draft(self, body: LongBody, leather_mm: float) -> Draft:
        """Front, back, welt, loop and their seams. Never raises."""
        goes_in = body.length_mm + min(self.seat_mm, max(-float(body.x_mm[0]) - 1.0, 0.0))
        faces = two_faces(
            body.lying(), goes_in, self.close_mm, self.margin_mm, 0.0, self.between_mm, self.mouth_ease_mm, True
        )
        if self.mouth == "sloped":
            faces = faces.sloped(self.mouth_depth_mm)
        side = 1.0 if self.worn == "right" else -1.0
        front, back = (
            self._punched(faces.panel(id, leather_mm, side, scoop_mm=self.scoop_mm), faces, side)
            for id in ("front", "back")
        )
        neutral = NEUTRAL_FORMED if self.formed else NEUTRAL_DRY
        high = self._below_mouth(faces, self.loop.width_mm / 2) if self.loop else 0.0
        on = hung(back, self.loop, 0.0, high, self.margin_mm, leather_mm, neutral)
        guards = self._toe_guards(front, on.back, faces, leather_mm) if self.toe_guard_mm else ()
        blade = faces.thing[faces.thing[:, 1] >= 0]
        main = faces.join(self.welts, side, frozen(blade), LEAST_EDGE_TO_THREAD_MM)
        strap = (
            stud_strap(self._strap_over_mm(body, faces, leather_mm) + LAP_MM, self.strap_mm, leather_mm)
            if self.strap_mm
            else None
        )
        holes = (("back", "rivet-hole"), ("front", "stud-hole"))
        at = self._strap_at(body, faces)
        goes = (Goes("strap", ("rivet-hole", "stud-hole"), holes, "handle", at),) if strap else ()
        return Draft(
            assembly=Assembly(
                (
                    front,
                    on.back,
                    faces.welt(self.welt_mm, self.welts, side, leather_mm),
                    *on.strips,
                    *(guard for guard, _, _ in guards),
                    *((strap,) if strap else ()),
                ),
                (*on.joins, *(glued for _, _, glued in guards), main),
                (*on.seats, *(seat for _, seat, _ in guards)),
                shells=(Shell("pocket", said("pocket"), ("front", "back")),),
                lies=faces.lies(side, 0.5, self._below_mouth(faces, np.inf)),
                fasteners=strap_fasteners("back", "front") if strap else (),
                straps=goes,
                belts=on.belts,
                rings=on.rings,
            ),
            marks=(Mark("dimension", frozen([[0.0, faces.mouth], [0.0, faces.x[-1]]])),),
            labels=(Label(said("outside"), (0.0, float(faces.x[-1]) - 16)),),
            callouts=self._callouts(faces, leather_mm),
            tell=partial(self._reckonings, body, faces),
            find=lambda: (
                *self._findings(body, faces),
                *loop_findings(on.back, self.loop, self._flat_mm(faces), self.margin_mm),
            ),
            shown=(
                "front",
                "back",
                "welt",
                *(guard.id for guard, _, _ in guards),
                *(("strap",) if strap else ()),
            ),
            way_out=faces.way_out(side),
            section=partial(self._section, body, leather_mm),
            search=partial(faces.search, side, edge=frozen(blade)),
            station_of=lambda u, v: (v, "low" if u * side > 0 else "top"),
            wet=self.formed,
            sentences=SENTENCES,
            closed=partial(faces.closed, side),
            carried=carried(self.worn, self.loop),
        )

    @property
    def scoop_mm(self) -> float:
        """How deep its mouth is scooped out."""
        return self.mouth_depth_mm if self.mouth == "scooped" else 0.0

    def _below_mouth(self, faces: Faces, reach_mm: float) -> float:
        """How far along the mouth is cut at most within `reach_mm` of the middle line."""
        return float(max(faces.rim(np.array([-reach_mm, reach_mm]))) + self.scoop_mm)

    def _toe_guards(
        self, front: Piece, back: Piece, faces: Faces, leather_mm: float
    ) -> tuple[tuple[Piece, Seat, Join], ...]:
        """A second layer at the toe inside either face."""
        begins = max(float(faces.x[-1]) - self.toe_guard_mm, self._below_mouth(faces, np.inf) + 1.0)
        return (
            toe_guard(front, begins, "toe-guard-front", said("toe guard, front"), leather_mm),
            toe_guard(back, begins, "toe-guard-back", said("toe guard, back"), leather_mm),
        )

    def _flat_mm(self, faces: Faces) -> float:
        """How wide the back is between its threads where its loop sits."""
        if self.loop is None:
            return 0.0
        _, left, right = between_sides(faces.back_thread, np.array([self._below_mouth(faces, self.loop.width_mm / 2)
                                                                + self.loop.down_mm]))  # fmt: skip
        return float(np.ptp([left, right]))

    @property
    def between_mm(self) -> float:
        """All that lies between the faces at the seam: the welt, or two."""
        return self.welts * self.welt_mm

    def _punched(self, panel: Piece, faces: Faces, side: float) -> Piece:
        """A face with the holes of its strap and its drain."""
        punches: tuple[Punch, ...] = ()
        if self.strap_mm:
            name, title = (
                ("stud-hole", said("stud hole")) if panel.id == "front" else ("rivet-hole", said("rivet hole"))
            )
            punches = (Punch(name, title, (0.0, self._below_mouth(faces, 0.0) + LAP_MM / 2), POST_MM),)
        if self.drain_mm > 0 and panel.id == "back":
            toe = float(faces.x[-1]) - max(6.0, 2 * self.drain_mm)
            n = len(faces.thing) // 2
            sides = (faces.thing[:n], faces.thing[: n - 1 : -1])
            middle = float(np.mean([np.interp(toe, line[:, 1], line[:, 0]) for line in sides]))
            punches += (Punch("drain", said("drain"), (-side * middle, toe), self.drain_mm),)
        return replace(panel, punches=(*panel.punches, *punches)) if punches else panel

    def _strap_at(self, body: LongBody, faces: Faces) -> float:
        """Where a strap goes round the handle: its thickest just outside the mouth."""
        outside = (body.x_mm < faces.mouth) & (body.x_mm > faces.mouth - 40)
        there = np.flatnonzero(outside if outside.any() else ~body.blade)
        return float(body.x_mm[there[int(np.argmax(body.girth_mm()[there]))]])

    def _strap_over_mm(self, body: LongBody, faces: Faces, leather_mm: float) -> float:
        """Half way round the handle there."""
        at = int(np.argmin(np.abs(body.x_mm - self._strap_at(body, faces))))
        neutral = NEUTRAL_FORMED if self.formed else NEUTRAL_DRY
        return flat_length(float(body.girth_mm()[at]) / 2, np.pi, neutral, leather_mm)

    def _callouts(self, faces: Faces, leather_mm: float) -> tuple[Callout, ...]:
        mouth, toe = faces.mouth, float(faces.x[-1])
        long = toe - mouth
        side = 1.0 if self.worn == "right" else -1.0
        left = partial(side_of, turned=side, right=False)
        level, cut_to = mouth + 0.45 * long, mouth + self.mouth_depth_mm
        thread, cut = (left(line, level) for line in (faces.front_thread, faces.front_ring))
        blade = (
            thread[0] + self.close_mm,
            level,
        )  # where its edge lies under the leather, which is wider by its thickness
        beside = left(faces.front_ring, mouth + 0.75 * long)
        ends = faces.front_ring[[0, -1]] * [side, 1.0]
        out, low = ends[int(np.argmax(ends[:, 0]))].tolist()
        callouts = [
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, beside, "left", "front"),
            Callout("piece.seat_mm", said("handle goes in"), "length", self.seat_mm, left(faces.front_ring, mouth), "left",
                    to=(left(faces.front_ring, mouth)[0], 0.0)),
            Callout("piece.close_mm", said("blade edge to thread"), "length", self.close_mm, blade, "left", "round-seam",
                    to=thread, chain="seam"),
            Callout("piece.margin_mm", said("thread to the cut"), "length", self.margin_mm, thread, "left", "round-seam",
                    to=cut, chain="seam"),
            Callout("piece.welt_mm", said("welt, thick"), "leather", self.welt_mm, (out, mouth + 0.5 * long), "right", "welt",
                    on="welt"),
            Callout("piece.mouth_ease_mm", said("ease at the mouth"), "length", self.mouth_ease_mm, (out, low + 3), "right",
                    on="welt"),
        ]  # fmt: skip
        if self.mouth != "straight":
            falls_left = self.mouth == "sloped" and side < 0
            u = left(faces.front_ring, mouth)[0] if falls_left else out
            callouts.append(Callout("piece.mouth_depth_mm", said("mouth cut down"), "length", self.mouth_depth_mm,
                                    (u, mouth), "left" if falls_left else "right", to=(u, cut_to),
                                    on="front" if falls_left else "welt"))  # fmt: skip
        if self.loop:
            v, wide = self._below_mouth(faces, self.loop.width_mm / 2) + self.loop.down_mm, self.loop.width_mm / 2
            callouts += [
                Callout("piece.loop.width_mm", said("loop, wide"), "length", self.loop.width_mm,
                        (-wide, v + self.loop.box_mm), "right", "belt-loop", on="back", to=(wide, v + self.loop.box_mm)),
                Callout("piece.loop.belt_mm", said("belt, wide"), "length", self.loop.belt_mm, (wide, v + 3), "right",
                        "belt-loop", on="back"),
            ]  # fmt: skip
        callouts += [
            Callout("piece.toe_guard_mm", said("toe guard"), "length", self.toe_guard_mm,
                    left(faces.front_ring, toe - self.toe_guard_mm), "left", "toe-guard-front",
                    to=(left(faces.front_ring, toe - self.toe_guard_mm)[0], toe), part=said("a toe guard"), usual=30.0),
            Callout("piece.strap_mm", said("strap, wide"), "length", self.strap_mm, (0.0, 30.0), "left", "strap",
                    on="strap", to=(self.strap_mm, 30.0), part=said("a strap"), usual=20.0),
            Callout("piece.drain_mm", said("drain hole"), "length", self.drain_mm, (0.0, toe - 8.0), "right", on="back",
                    part=said("a drain hole"), usual=4.0),
            Callout("piece.welts", said("welts"), "count", self.welts, cut, "right", "welt",
                    (said("one welt"), said("two welts")), (1, 2)),
            Callout("piece.mouth", said("mouth"), "count", self.mouth, cut, "left", "mouth",
                    (said("straight"), said("sloped"), said("scooped"))),
            Callout("piece.worn", said("worn on the"), "count", self.worn, cut, "left",
                    choices=(said("right"), said("left"))),
            Callout("piece.loop", said("for the belt"), "count", self.loop, cut, "left", "belt-loop",
                    *loop_choices(self.loop)),
            Callout("piece.formed", said("leather formed"), "count", self.formed, cut, "left", "",
                    (said("dry"), said("wet")), (False, True)),
        ]  # fmt: skip
        return tuple(callouts)

    def _reckonings(self, body: LongBody, faces: Faces) -> tuple[Reckoning, ...]:
        across = faces.half + faces.more
        k = len(across) - 1 - int(np.argmax(across[::-1]))  # towards the mouth it stays as wide as what must pass
        wide = 2 * (faces.half[k] + faces.more[k])
        return (
            reckon("face", said("Blade under a face"), length(wide),
                   said("{w:n} wide + {more} for its thickness, {at} from the guard", w=length(2 * faces.half[k]),
                        more=length(2 * faces.more[k]), at=length(faces.x[k])), ("front",)),
            reckon("welt-width", said("Welt, wide"), length(0.9 * min(self.close_mm, self.margin_mm) + self.margin_mm),
                   said("from just clear of the blade to the cut, {e:n} of it outside the thread", e=length(self.margin_mm)),
                   ("welt",)),
            Reckoning("squeeze", said("Squeeze at the mouth"),
                      said("{grade}, {share}", grade=GRADES[squeeze_grade(faces.ease_mm, faces.passing)],
                           share=percent(faces.ease_mm / faces.passing)),
                      said("{gives} inside over {needs} of what must pass", gives=length(faces.gives),
                           needs=length(faces.passing)), ("mouth",), faces.ease_mm / faces.passing),
            reckon("toe", said("Leather past the point"), length(float(faces.front_ring[:, 1].max() - faces.x[-1])),
                   said("{c:n} to the thread + {e:n} margin, and what lies over the point", c=length(self.close_mm),
                        e=length(self.margin_mm)), ("front",)),
        )  # fmt: skip

    def _findings(self, body: LongBody, faces: Faces) -> tuple[Finding, ...]:
        findings: list[Finding] = []
        if self.seat_mm > -body.x_mm[0] - 0.5:
            findings.append(Finding(
                "hold", "seat-past-handle", "draft",
                said("The handle goes in {seat}, but it is only {handle} long.", seat=length(self.seat_mm),
                     handle=length(-body.x_mm[0])), "piece.seat_mm",
                Mend(said("shorten"), (("piece.seat_mm", round(-body.x_mm[0] * 0.4, 1)),)),
            ))  # fmt: skip
        if self.close_mm < LEAST_EDGE_TO_THREAD_MM:
            findings.append(Finding(
                "hold", "edge-near-thread", "draft",
                said("The thread runs {d} from the cutting edge; {least} is the least.", d=length(self.close_mm),
                     least=length(LEAST_EDGE_TO_THREAD_MM)), "piece.close_mm",
                Mend(said("move the thread out"), (("piece.close_mm", LEAST_EDGE_TO_THREAD_MM + 2),)),
            ))  # fmt: skip
        thick = float(body.thick_mm[body.blade].max())
        if self.between_mm < thick / 2:
            findings.append(Finding(
                "look", "welt-thin", "draft",
                said("The welt of {w} is less than half the blade's {t}: the faces close on its edges.",
                     w=Q("leather", self.between_mm), t=length(thick)), "piece.welt_mm",
                Mend(said("a thicker welt"), (("piece.welt_mm", min(round(thick * 0.75 / self.welts, 1), 15.0)),)),
            ))  # fmt: skip
        grade = squeeze_grade(faces.ease_mm, faces.passing)
        if grade in ("too tight", "very firm", "loose"):
            findings.append(Finding(
                "hold" if grade == "too tight" else "look", "squeeze", "draft",
                said("The mouth is {grade}: {gives} inside for {needs} that must pass.", gives=length(faces.gives),
                     needs=length(faces.passing), grade=GRADES[grade]), "piece.mouth_ease_mm",
                Mend(said("ease the mouth"), (("piece.mouth_ease_mm", 1.0),)),
            ))  # fmt: skip
        return tuple(findings)

    def _section(self, body: LongBody, leather_mm: float, at_mm: float) -> Section:
        lying = body.lying()
        k = int(np.argmin(np.abs(body.x_mm - at_mm)))
        draw = partial(
            cut_across_faces,
            lying.y_mm[k],
            lying.z_mm[k],
            self.close_mm,
            self.margin_mm,
            0.0,
            self.between_mm,
            leather_mm,
            True,
        )
        return Section(float(body.x_mm[k]), draw, said("Section, {at} from the guard", at=length(body.x_mm[k])),
                       said("edge to thread {d} here", d=length(self.close_mm)))  # fmt: skip
