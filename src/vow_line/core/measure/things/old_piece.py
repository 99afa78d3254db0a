"""An old piece taken apart: its parts traced, with the holes they were sewn by."""

from typing import ClassVar, Literal

from ...texts import Said, said
from ..panel_set import PanelSet


class OldPiece(PanelSet):
    """The parts of an old piece; leather that stretched or shrank is brought back by what it is known to have been."""

    body: Literal["old-piece"] = "old-piece"
    name: str = "old piece"

    says: ClassVar[Said] = said("old piece")
    hint: ClassVar[Said] = said("taken apart, holes kept")
    holed: ClassVar[bool] = True
    caution: ClassVar[Said] = said(
        "Old leather may be brittle and dusty: cut the thread, not the leather, and wash your hands."
    )
