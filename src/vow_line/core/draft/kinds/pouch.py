"""The moulded holster or pouch: two faces worked down wet over the thing, or the front alone over a flat back."""

from dataclasses import replace
from functools import partial
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ...curve import arc_length, frozen
from ...drawing import Callout, Label, Mark
from ...finding import Finding, Mend
from ...measure import Body, MouldedBody
from ...memory import remembered
from ...reckoning import Reckoning, length, percent, reckon
from ...texts import Said, said
from ..assembly import Assembly
from ..drafted import Draft, Section
from ..draw_out import GRADES, squeeze_grade
from ..folded_faces import FoldedFaces, folded_faces
from ..joins import Shell
from ..kind import KindOfPiece
from ..loop import BeltLoop, carried, hung, loop_choices, loop_findings
from ..two_faces import Faces, cut_across_faces, side_of, two_faces
from ..wrap import NEUTRAL_FORMED

USUAL_IN = 0.7  # a pouch takes in about so much of a thing (from memory)
MOST_WORKED = 0.35  # height over width beyond which a face worked in one piece puckers (from memory)


@remembered("part")
def _longer(pouch: "Pouch", body: MouldedBody) -> float:
    return pouch._longer_alone(body)


EASE_MOST = 0.05  # so much of a seam's length is gathered in over a nose (common practice)

SENTENCES = (
    said("Made in {form} with {welts} between; worn on the {worn} from {loop}."),
    said("Worked in {moulded}."),
)


class Pouch(KindOfPiece):
    """Choices for a moulded pouch; every length in mm. It takes in most of the thing, unless `goes_in_mm` says how much;
    `worked_mm` is how far below a taut line a face is worked down; `moulded` says whether both faces are, or the front alone.
    Folded, front and back are one piece that goes round one side of the thing; in two parts the back may stand up above the
    mouth by `back_up_mm`, and carry the loop there.
    """

    kind: Literal["pouch"] = "pouch"
    says: ClassVar[Said] = said("holster or pouch")
    hint: ClassVar[Said] = said("worked wet to its shape")
    fits: ClassVar[type[Body]] = MouldedBody
    goes_in_mm: Annotated[float, Field(gt=0, le=1000)] | None = None
    close_mm: Annotated[float, Field(ge=0, le=60)] = 3.0
    margin_mm: Annotated[float, Field(gt=0, le=60)] = 6.0
    worked_mm: Annotated[float, Field(ge=0, le=100)] = 15.0
    form: Literal["two-parts", "folded"] = "two-parts"
    moulded: Literal["both", "front"] = "both"
    welts: Annotated[int, Field(ge=0, le=4)] = 0
    welt_mm: Annotated[float, Field(gt=0, le=15)] = 3.0
    back_up_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    mouth_ease_mm: Annotated[float, Field(ge=-30, le=60)] = 1.0
    worn: Literal["right", "left"] = "right"
    loop: BeltLoop | None = BeltLoop()

    def goes_in(self, body: MouldedBody) -> float:
        """How much of the thing goes in."""
        return USUAL_IN * float(np.ptp(body.x_mm)) if self.goes_in_mm is None else self.goes_in_mm

    def draft(self, body: MouldedBody, leather_mm: float) -> Draft:
        """Back, front, welts and their seam. Never raises."""
        shape = two_faces(
            body, self.goes_in(body), self.close_mm, self.margin_mm, self.worked_mm, self.welts * self.welt_mm,
            self.mouth_ease_mm, self.moulded == "both",
        )  # fmt: skip
        side = 1.0 if self.worn == "right" else -1.0
        folded = folded_faces(shape, leather_mm, NEUTRAL_FORMED) if self.form == "folded" else None
        sewn: Faces | FoldedFaces = folded or shape
        up = 0.0 if folded else self.back_up_mm
        if folded:
            faces, back, middle = [folded.piece(leather_mm, side)], 0, -side * folded.back_mm
            main = folded.join(self.welts, side)
        else:
            faces, back, middle = (
                [shape.panel("front", leather_mm, side), shape.panel("back", leather_mm, side, up)],
                1,
                0.0,
            )
            main = shape.join(self.welts, side, None, 0.0, up > 0)
        axis = side * folded.front_mm if folded else 0.0  # where the thing's middle line lies on the first piece
        flat = 2 * float(shape.half[0]) + 2 * self.close_mm
        on = hung(faces[back], self.loop, middle, shape.mouth - up, self.margin_mm, leather_mm, NEUTRAL_FORMED)
        faces[back] = on.back
        welts = [sewn.welt(self.welt_mm, self.welts, side, leather_mm)] if self.welts else []
        names = tuple(p.id for p in faces)
        return Draft(
            assembly=Assembly(
                (*faces, *welts, *on.strips), (*on.joins, main), on.seats, shells=(Shell("pocket", said("pocket"), names),),
                lies=sewn.lies(side, 0.5 if self.moulded == "both" else 1.0), belts=on.belts, rings=on.rings,
            ),
            marks=(Mark("dimension", frozen([[axis, shape.mouth], [axis, shape.x[-1]]])),),
            labels=(Label(said("outside"), (axis, float(shape.x[-1]) - 16)),),
            callouts=self._callouts(body, shape, leather_mm, float(np.abs(faces[0].outline[:, 0]).max())),
            tell=partial(self._reckonings, body, shape, leather_mm, folded),
            find=lambda: (*self._findings(body, shape), *loop_findings(on.back, self.loop, flat, self.margin_mm)),
            shown=(*names, *(("welt",) if self.welts else ())),
            way_out=sewn.way_out(side),
            section=partial(self._section, body, leather_mm),
            search=partial(sewn.search, side),
            station_of=lambda u, v: (v, "low" if abs(u) > abs(axis) and u * side > 0 else "top"),
            wet=True,
            sentences=SENTENCES,
            closed=partial(sewn.closed, side),
            carried=carried(self.worn, self.loop),
        )  # fmt: skip

    def _callouts(self, body: MouldedBody, shape: Faces, leather_mm: float, wide: float) -> tuple[Callout, ...]:
        mouth, toe = shape.mouth, float(shape.x[-1])
        long = toe - mouth
        folded = self.form == "folded"
        last = "pouch" if folded else "welt" if self.welts else "back"
        out, level = (wide, mouth), mouth + 0.45 * long
        side = 1.0 if self.worn == "right" else -1.0
        lines, over = (shape.front_thread, shape.front_ring), side
        if last == "back":
            lines, over = (shape.back_thread, shape.back_ring), -side
        thread, cut = (side_of(line, level, over, right=True) for line in lines)
        seam = Callout("piece.close_mm", said("thread to the thing"), "length", self.close_mm, (wide, level), "right",
                       "round-seam")  # fmt: skip
        margin = replace(seam, path="piece.margin_mm", name=said("thread to the cut"), value=self.margin_mm)
        if not folded:  # there the lines of both halves lie a bend apart
            seam = replace(seam, at=(thread[0] - self.close_mm, level), to=thread, on=last, chain="seam")
            margin = replace(margin, at=thread, to=cut, on=last, chain="seam")

        def right(share: float) -> tuple[float, float]:
            at = side_of(lines[1], mouth + long * share, over, right=True)
            return (wide, at[1]) if folded else at

        callouts = [
            Callout("piece.goes_in_mm", said("goes in"), "length", self.goes_in(body), (-wide, mouth), "left",
                    to=(-wide, toe)),
            seam, margin,
            Callout("leather.thickness_mm", said("leather"), "leather", leather_mm, right(0.7), "right",
                    "front", on=last),
            Callout("piece.mouth_ease_mm", said("ease at the mouth"), "length", self.mouth_ease_mm, (wide, mouth + 2),
                    "right", on=last),
            Callout("piece.worked_mm", said("worked down by"), "length", self.worked_mm, right(0.25), "right",
                    "front", on=last),
        ]  # fmt: skip
        if not folded:
            callouts.append(Callout("piece.back_up_mm", said("back stands up"), "length", self.back_up_mm,
                                    (wide, mouth - self.back_up_mm), "right", "back", on="back", to=out,
                                    part=said("a back that stands up"), usual=20.0))  # fmt: skip
        if self.welts:
            callouts.append(Callout("piece.welt_mm", said("each welt, thick"), "leather", self.welt_mm,
                                    right(0.85), "right", "welt", on=last))  # fmt: skip
        if self.loop:
            up = 0.0 if folded else self.back_up_mm
            half, v = self.loop.width_mm / 2, mouth - up + self.loop.down_mm + self.loop.box_mm
            callouts += [
                Callout("piece.loop.width_mm", said("loop, wide"), "length", self.loop.width_mm, (-half, v), "right",
                        "belt-loop", on="" if folded else "back", to=None if folded else (half, v)),
                Callout("piece.loop.belt_mm", said("belt, wide"), "length", self.loop.belt_mm, (half, v - 4), "right",
                        "belt-loop", on="" if folded else "back"),
            ]  # fmt: skip
        callouts += [
            Callout("piece.form", said("made in"), "count", self.form, out, "left",
                    choices=(said("two parts"), said("one folded piece")), meant=("two-parts", "folded")),
            Callout("piece.welts", said("welts between"), "count", self.welts, out, "right", "welt",
                    (said("no welt"), said("one welt"), said("two welts"), said("three welts"), said("four welts")),
                    (0, 1, 2, 3, 4)),
            Callout("piece.worn", said("worn on the"), "count", self.worn, out, "left",
                    choices=(said("right"), said("left"))),
            Callout("piece.loop", said("for the belt"), "count", self.loop, out, "left", "belt-loop",
                    *loop_choices(self.loop)),
        ]  # fmt: skip
        if self.moulded == "front" or self._about_longer(body) <= EASE_MOST:
            callouts.append(Callout("piece.moulded", said("faces worked"), "count", self.moulded, out, "right", "",
                                    (said("both faces"), said("the front alone")), ("both", "front")))  # fmt: skip
        return tuple(callouts)

    def _reckonings(
        self, body: MouldedBody, shape: Faces, leather_mm: float, folded: FoldedFaces | None
    ) -> tuple[Reckoning, ...]:
        k = int(np.argmax(shape.more))
        ease = shape.ease_mm
        lines = (folded.back_thread, folded.thread) if folded else (shape.back_thread, shape.front_thread)
        back, front = (float(arc_length(line)[-1]) for line in lines)
        turn = () if folded is None else (
            reckon("fold", said("The fold takes"), length(2 * folded.bend_mm),
                   said("half a turn of leather {t:n} thick, its neutral layer at {k} of it", t=length(leather_mm),
                        k=percent(NEUTRAL_FORMED)), ("pouch",)),
        )  # fmt: skip
        return (
            reckon("front-more", said("A worked face is wider by"), length(2 * shape.more[k]),
                   said("the leather over a section {h:n} high and {w} wide, {at} from the butt",
                        h=length(float(np.interp(shape.x[k], body.x_mm, body.height_mm))), w=length(2 * shape.half[k]),
                        at=length(shape.x[k])), ("front",),
                   (said("it bends down off the thing and back onto the flange: its thickness takes nothing"),)),
            reckon("front-longer", said("Longer over the nose"), length(shape.over_nose),
                   said("the same along it, from its highest down to the seam"), ("front",)),
            Reckoning("squeeze", said("Squeeze at the mouth"), said("{grade}, {share}", grade=GRADES[squeeze_grade(ease,
                                                                                                                   shape.passing)],
                                                              share=percent(ease / shape.passing)),
                      said("{gives} inside over {needs} of what must pass", gives=length(shape.gives),
                           needs=length(shape.passing)), ("mouth",), ease / shape.passing),
            reckon("partner", said("Front seam against back"), percent(front / back - 1),
                   said("{f} over {b:n}: the holes are eased in", f=length(front), b=length(back)), ("round-seam",)),
            *turn,
        )  # fmt: skip

    def _about_longer(self, body: MouldedBody) -> float:
        """The same by choices rounded to whole mm, so that not every edit asks anew: enough to offer the choice by."""
        rounded = {"close_mm": float(round(self.close_mm)), "margin_mm": 6.0, "mouth_ease_mm": 1.0}
        return _longer(self.model_copy(update=rounded), body)

    def _longer_alone(self, body: MouldedBody) -> float:
        """How much longer round its nose the seam of a front that takes all the height is than that of a flat back, a share."""
        alone = two_faces(
            body, self.goes_in(body), self.close_mm, self.margin_mm, self.worked_mm, self.welts * self.welt_mm,
            self.mouth_ease_mm, False,
        )  # fmt: skip
        return float(arc_length(alone.front_thread)[-1] / arc_length(alone.back_thread)[-1]) - 1

    def _findings(self, body: MouldedBody, shape: Faces) -> tuple[Finding, ...]:
        findings: list[Finding] = []
        if self.moulded == "front" and (longer := self._longer_alone(body)) > EASE_MOST:
            findings.append(Finding(
                "hold", "front-alone", "draft",
                said("Worked alone, the front is {share} longer round the seam than a flat back; {most} can be gathered in.",
                     share=percent(longer), most=percent(EASE_MOST)), "piece.moulded",
                Mend(said("work both"), (("piece.moulded", "both"),)),
            ))  # fmt: skip
        long = float(body.x_mm[-1])
        if self.goes_in(body) > long:
            findings.append(Finding(
                "hold", "seat-past-butt", "draft",
                said("It goes in {want}, but is only {long} long.", want=length(self.goes_in(body)), long=length(long)),
                "piece.goes_in_mm", Mend(said("most of it"), (("piece.goes_in_mm", round(USUAL_IN * long, 1)),)),
            ))  # fmt: skip
        ease = shape.ease_mm
        grade = squeeze_grade(ease, shape.passing)
        if grade in ("too tight", "very firm", "loose"):
            findings.append(Finding(
                "hold" if grade == "too tight" else "look", "squeeze", "draft",
                said("The mouth is {grade}: {gives} inside for {needs} that must pass.", gives=length(shape.gives),
                     needs=length(shape.passing), grade=GRADES[grade]), "piece.mouth_ease_mm",
                Mend(said("ease the mouth"), (("piece.mouth_ease_mm",
                                         round(min(max(self.mouth_ease_mm + 1.0 - ease, -30.0), 60.0), 2)),)),
            ))  # fmt: skip
        steep = float((body.height_mm / np.maximum(body.low_mm - body.top_mm, 1)).max())
        steep = steep / 2 if self.moulded == "both" else steep
        if steep > MOST_WORKED and self.worked_mm > 0 and not self.welts:
            findings.append(Finding(
                "look", "worked-deep", "draft",
                said("A face must rise to {s} of its width: worked in one piece it puckers beside the seam. "
                     "Work both faces, or let a welt take some of the height.", s=percent(steep)), "piece.moulded",
                Mend(said("work both"), (("piece.moulded", "both"),)) if self.moulded == "front"
                else Mend(said("a welt"), (("piece.welts", 1),)),
            ))  # fmt: skip
        if self.close_mm < body.spread_mm:
            findings.append(Finding(
                "look", "spread-past-room", "draft",
                said("The thread keeps {c} off the thing; its readings spread {s}.", c=length(self.close_mm),
                     s=length(body.spread_mm)), "piece.close_mm",
            ))  # fmt: skip
        return tuple(findings)

    def _section(self, body: MouldedBody, leather_mm: float, at_mm: float) -> Section:
        """Cut across at `at_mm` from the butt: the thing between its two faces."""
        k = int(np.argmin(np.abs(body.x_mm - at_mm)))
        draw = partial(
            cut_across_faces, body.y_mm[k], body.z_mm[k], self.close_mm, self.margin_mm, self.worked_mm,
            self.welts * self.welt_mm, leather_mm, self.moulded == "both", self.form == "folded",
        )  # fmt: skip
        return Section(float(body.x_mm[k]), draw, said("Section, {at} from the butt", at=length(body.x_mm[k])),
                       said("{h} high there", h=length(body.height_mm[k])))  # fmt: skip
