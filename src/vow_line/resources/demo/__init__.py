"""The demo: a hedge-laying gang on Withy Common refits its kit in winter. All people, places, dates, measurements and
prices are invented."""

from ...core.draft.kind import KindOfPiece
from ...core.job import Job
from ...core.measure import Thing
from . import hard_goods, panels, soft_goods


def demo_jobs() -> dict[str, Job]:
    """The demo jobs by file name."""
    return {
        "laying-knife": hard_goods.laying_knife(),
        "hedging-knife": hard_goods.hedging_knife(),
        "spar-knife": hard_goods.spar_knife(),
        "grafting-knife": hard_goods.grafting_knife(),
        "slasher-grip": hard_goods.slasher_grip(),
        "key-fob": hard_goods.key_fob(),
        "billhook-cover": hard_goods.billhook_cover(),
        "secateurs-holster": hard_goods.secateurs_holster(),
        "whetstone-case": hard_goods.whetstone_case(),
        "turf-knife": hard_goods.turf_knife(),
        "goat-collar": soft_goods.goat_collar(),
        "mallet-tab": soft_goods.mallet_tab(),
        "basket-handle": soft_goods.basket_handle(),
        "tool-sling": soft_goods.tool_sling(),
        "stone-tube": soft_goods.stone_tube(),
        "thorn-cuff": soft_goods.thorn_cuff(),
        "gaiter": soft_goods.gaiter(),
        "gang-cuffs": soft_goods.gang_cuffs(),
        "file-roll": soft_goods.file_roll(),
        "needle-case": soft_goods.needle_case(),
        "first-aid-pouch": soft_goods.first_aid_pouch(),
        "waistcoat": panels.waistcoat(),
        "staple-pouch": panels.old_pouch(),
        "hedging-mitten": panels.hedging_mitten(),
        "bramble-glove": panels.bramble_glove(),
    }


def sample_of(sort: type[KindOfPiece] | type[Thing]) -> Job | None:
    """A demo job with a thing or a piece of this sort, to show what one looks like; None where the demo has none."""
    return next((j for j in demo_jobs().values() if isinstance(j.piece, sort) or isinstance(j.thing, sort)), None)
