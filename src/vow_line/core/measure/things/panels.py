"""Panels of a thing for a wearer, from a wrap of tape, from paper or card: a waistcoat, a bib, a mask."""

from typing import ClassVar, Literal

from ...texts import Said, said
from ..panel_set import PanelSet
from ..thing import WEARERS_AGE


class Panels(PanelSet):
    """The panels of a wrap."""

    body: Literal["panels"] = "panels"

    says: ClassVar[Said] = said("panels")
    hint: ClassVar[Said] = said("traced from a wrap")
    ages: ClassVar[Said] = WEARERS_AGE
