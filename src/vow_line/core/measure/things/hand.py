"""A hand for a glove or a mitten: the pattern of one that fits somebody, stretched to what is read of this one."""

from typing import ClassVar, Literal

from ...texts import Said, said
from ..panel_set import PanelSet, Sized
from ..thing import WEARERS_AGE


class Hand(PanelSet):
    """The panels of a pattern; each as long and as wide as is read on this hand."""

    body: Literal["hand"] = "hand"
    name: str = "hand"
    sized: Sized = "read"

    says: ClassVar[Said] = said("hand")
    hint: ClassVar[Said] = said("a glove made to fit")
    ages: ClassVar[Said] = WEARERS_AGE
    caution: ClassVar[Said] = said(
        "Measure the hand that works more, over what is worn in the glove, the fingers a little bent."
    )
