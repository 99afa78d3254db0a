"""What a line of a drawing is for, and what that is on every surface: the one table of the board, the printer and the files."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal, get_args

from .texts import NOTHING, Said, said

Meaning = Literal[
    "cut", "fold", "stitch", "hole", "skive", "glue", "mark", "edge", "thing", "ghost", "grain", "flesh", "strike",
    "dimension", "alarm", "band", "front thread", "back thread", "welt", "hide", "done", "void", "crease", "stamp",
    "seat", "assumed", "belt", "stretch", "shrink",
]  # fmt: skip
Pattern = Literal["solid", "dotted", "hatched", "crossed", "crossed aslant"]


@dataclass(frozen=True, slots=True)
class Look:
    """On a board: the inks of line and fill, width in px, dashes in px, the fill's pattern, its opacity of 255."""

    pen: str = ""
    width: float = 1.2
    dash: tuple[float, ...] = ()
    fill: str = ""
    pattern: Pattern = "solid"
    alpha: int = 255


@dataclass(frozen=True, slots=True)
class Print:
    """On paper and in files: the layer, the line's width and dashes in mm, whether it is grey, what a page's key calls it. Only
    what is cut is a whole line, so that nothing else is cut along.
    """

    layer: str
    width_mm: float
    dash_mm: tuple[float, ...] = ()
    grey: bool = False
    key: Said = NOTHING


@dataclass(frozen=True, slots=True)
class Means:
    """What a meaning is on a board, or None, and on a pattern, or None."""

    board: Look | None
    paper: Print | None = None


MEANINGS: Mapping[Meaning, Means] = MappingProxyType({
    "grain": Means(Look(fill="grain")),
    "flesh": Means(Look(fill="flesh")),
    "glue": Means(Look(fill="ink", pattern="dotted", alpha=50), Print("mark", 0.15, (0.3, 1.5), True, said("glue"))),
    "skive": Means(Look("quiet", 0.8, fill="quiet", pattern="hatched", alpha=150), Print("mark", 0.15, (1, 1), True,
                                                                                         said("skive"))),
    "welt": Means(Look("ink", 0.9, fill="flesh")),
    "fold": Means(Look("weld", 2.2, (8, 4)), Print("fold", 0.25, (8, 3), key=said("fold"))),
    "cut": Means(Look("ink", 2.0), Print("cut", 0.25, key=said("cut"))),
    "edge": Means(Look("weld", 4.5, (9, 4), alpha=170)),
    # a hole is pricked through the paper at its middle, and on the board seen as the slit it is
    "stitch": Means(Look("woad", 2.4)),
    "hole": Means(None, Print("stitch", 0.15)),
    "crease": Means(Look("ink", 1.0), Print("crease", 0.2, (5, 1.5, 0.5, 1.5), key=said("crease"))),
    "stamp": Means(Look("quiet", 1.0, (2, 3), "quiet", "crossed", 60), Print("stamp", 0.2, (2, 1.5), key=said("stamp inside"))),
    "seat": Means(Look("quiet", 1.0, (5, 3)), Print("mark", 0.2, (4, 1, 1, 1), key=said("another piece lies here"))),
    "mark": Means(Look("quiet", 1.0), Print("mark", 0.2)),
    "thing": Means(Look("steel", 1.0, fill="steel", alpha=70)),
    "assumed": Means(Look("quiet", 1.0, (4, 3), fill="steel", alpha=28)),
    "ghost": Means(Look("steel", 1.0, fill="grain", alpha=110)),
    "strike": Means(Look("ink", 1.3)),
    "dimension": Means(Look("quiet", 1.0, (3, 3))),
    "alarm": Means(Look("madder", 2.4)),
    "band": Means(Look("quiet", 1.0, fill="quiet", alpha=70)),
    "front thread": Means(Look("woad", 4.0)),
    "back thread": Means(Look("woad", 4.0)),
    "belt": Means(Look(fill="quiet", alpha=110)),
    "hide": Means(Look("ink", 1.6, fill="grain")),
    "done": Means(Look("verdigris", 1.0, fill="verdigris", alpha=90)),
    "stretch": Means(Look("madder", 1.0)),
    "shrink": Means(Look("woad", 1.0)),
    "void": Means(Look("madder", 1.0, fill="madder", pattern="crossed aslant", alpha=120)),
})  # fmt: skip
assert MEANINGS.keys() == set(get_args(Meaning))

LOOKS: Mapping[Meaning, Look] = MappingProxyType({m: t.board for m, t in MEANINGS.items() if t.board is not None})
PRINTS: Mapping[Meaning, Print] = MappingProxyType({m: t.paper for m, t in MEANINGS.items() if t.paper is not None})
"""In the order in which they are written."""
