"""Tools that lie side by side in a roll: how long, how wide and how thick each is."""

from typing import Annotated, Any, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from ...curve import frozen
from ...drawing import Callout, Mark
from ...finding import Finding
from ...frozen import Frozen
from ...reckoning import Reckoning, count, length, reckon
from ...texts import Said, said
from ..body import Body, Measured, ToolsBody
from ..readings import MOST_LONG_MM, MOST_THICK_MM, RIGID_MM, SPREAD_SAYS, Reading, read_so_far
from ..thing import Thing

APART_MM = 18.0  # between two tools as they are drawn
USUAL = (160.0, 24.0, 14.0)
NAMES = said("long, {n}"), said("wide, {n}"), said("thick, {n}")


class RollTool(Frozen):
    """One tool: its length, and how wide and thick it is where it is widest."""

    long: Reading = Reading()
    wide: Reading = Reading()
    thick: Reading = Reading()

    @property
    def readings(self) -> tuple[Reading, Reading, Reading]:
        """Length, width, thickness."""
        return self.long, self.wide, self.thick


class Tools(Thing):
    """The tools in the order in which they lie, from left to right."""

    body: Literal["tools"] = "tools"
    name: str = "tools"
    tools: Annotated[tuple[RollTool, ...], Field(min_length=1, max_length=16)]

    says: ClassVar[Said] = said("set of tools")
    hint: ClassVar[Said] = said("chisels, needles, files")
    gives: ClassVar[type[Body]] = ToolsBody

    @classmethod
    def blank(cls) -> Self:
        """Three tools, nothing of them measured yet."""
        return cls(tools=(RollTool(), RollTool(), RollTool()))

    def with_station(self, at_mm: float | None = None) -> tuple[str, tuple[Any, ...]]:
        """A tool more, at the right."""
        return "tools", (*self.tools, RollTool())

    def without_station(self, part: str, number: int) -> tuple[Any, ...]:
        """One tool fewer."""
        if part != "tools":
            return super().without_station(part, number)
        return tuple(t for i, t in enumerate(self.tools) if i != number)

    def measure(self) -> Measured:
        """The tools; all three readings of each."""
        findings: list[Finding] = []
        for i, tool in enumerate(self.tools):
            n = count(i + 1)
            findings += tool.long.findings(
                f"thing.tools.{i}.long", said("Length of tool {n}", n=n), RIGID_MM, MOST_LONG_MM
            )
            findings += tool.wide.findings(f"thing.tools.{i}.wide", said("Width of tool {n}", n=n), RIGID_MM)
            findings += tool.thick.findings(
                f"thing.tools.{i}.thick", said("Thickness of tool {n}", n=n), RIGID_MM, MOST_THICK_MM
            )
        read = [r for t in self.tools for r in t.readings]
        body = None
        if all(r.taken and r.mean_mm > 0 for r in read):
            sizes = [[r.mean_mm for r in t.readings] for t in self.tools]
            body = ToolsBody(self.name, max(r.spread_mm for r in read), frozen(sizes))
        marks, callouts = self._drawn(body)
        return Measured(body, marks, callouts, lambda: self._sums(body), tuple(findings))

    def _drawn(self, body: ToolsBody | None) -> tuple[tuple[Mark, ...], tuple[Callout, ...]]:
        """Each tool from above, standing on one line, with how thick it is below."""
        marks, callouts, x = [], [], 0.0
        for i, tool in enumerate(self.tools):
            long, wide, thick = (
                r.mean_mm if r.taken and r.mean_mm > 0 else usual for r, usual in zip(tool.readings, USUAL, strict=True)
            )
            at, middle = f"thing.tools.{i}", x + wide / 2
            meaning: Literal["thing", "dimension"] = "thing" if body else "dimension"
            marks.append(
                Mark(meaning, frozen([[x, -long], [x + wide, -long], [x + wide, 0], [x, 0]]), True, f"{at}.wide")
            )
            low = 16.0
            below = frozen([[x, low], [x + wide, low], [x + wide, low + thick], [x, low + thick]])
            marks.append(Mark(meaning, below, True, f"{at}.thick"))
            names = [text.filled(n=i + 1) for text in NAMES]
            callouts += [
                Callout(f"{at}.long", names[0], "length", None, (middle, -long), "above", f"{at}.wide", tape=True),
                Callout(f"{at}.wide", names[1], "length", None, (middle, low), "below", f"{at}.wide"),
                Callout(f"{at}.thick", names[2], "length", None, (middle, low + thick), "below", f"{at}.thick"),
            ]
            x += max(wide, 40.0) + APART_MM
        return tuple(marks), tuple(callouts)

    def _sums(self, body: ToolsBody | None) -> tuple[Reckoning, ...]:
        if body is None:
            return ()
        long, wide, _ = body.sizes_mm.T
        return (
            reckon("count", said("Tools"), count(len(long)), said("in the order in which they lie")),
            reckon("wide", said("Side by side"), length(float(wide.sum())), said("their widths together")),
            reckon("longest", said("Longest"), length(float(np.max(long))),
                   said("tool {n}", n=count(int(np.argmax(long)) + 1))),
            reckon("spread", said("Readings spread"), length(body.spread_mm), SPREAD_SAYS),
            *read_so_far([r for t in self.tools for r in t.readings]),
        )  # fmt: skip
