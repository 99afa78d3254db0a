"""The cutting list as CSV: pieces, hardware (as wide as its hole or opening, as long as its post or bar), lengths of thread."""

import csv
import io
from pathlib import Path

import numpy as np

from ..core.draft.together import patterns
from ..core.plan import Plan
from ..core.texts import said
from .whole import write_whole

NAME, SUFFIX = said("Cutting list, CSV"), "-cutting-list.csv"
COLUMNS = (
    "what",
    "name",
    "count",
    "mirrored",
    "side_up",
    "cut_from",
    "thickness_mm",
    "wide_mm",
    "long_mm",
    "area_mm2",
    "revision",
)


def write(plan: Plan, path: Path) -> None:
    """Write the list. Raises FailedWrite."""
    write_whole(path, render(plan))


def render(plan: Plan) -> bytes:
    """The list as UTF-8 CSV with a header."""
    out = io.StringIO()
    table = csv.writer(out)
    table.writerow(COLUMNS)
    units = plan.job.units
    revision = plan.job.vowed.revision if plan.job.vowed else ""
    for p in patterns(plan.whole) if plan.whole else ():
        wide, long = np.ptp(p.outline, axis=0)[:: -1 if p.turns == "across" else 1]
        table.writerow([
            "piece", p.title.write(units), p.count, "yes" if p.mirrored else "no",
            p.side_up if p.stock.sort == "leather" else "", p.stock.title.write(units), f"{p.thickness_mm:.2f}", f"{wide:.1f}",
            f"{long:.1f}", f"{p.area_mm2:.0f}", revision,
        ])  # fmt: skip
    for h in plan.hardware:
        table.writerow(["hardware", h.title.write(units), h.count, "no", "", "", "", f"{h.size_mm:.1f}",
                        f"{h.other_mm:.1f}" if h.other_mm else "", "", revision])  # fmt: skip
    makes = plan.whole.makes if plan.whole else 1
    for s in plan.threading.seams if plan.threading else ():
        for cut in s.cuts:
            for mm in cut.thread_mm:  # two, where the stitch takes two threads
                table.writerow(["thread", s.seam.title.write(units), makes * s.seam.line.times, "no", "", "", s.thread_mm, "",
                                f"{mm:.0f}", "", revision])  # fmt: skip
    return out.getvalue().encode()
