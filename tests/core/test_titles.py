"""What is shown is a title, what is saved an id: no id with a hyphen is read by a maker."""

import re

import pytest

from vow_line.core.plan import plan
from vow_line.core.quantity import Units
from vow_line.core.readback import read_back
from vow_line.core.thread.stitches import STITCHES
from vow_line.core.work.prompts import prompts
from vow_line.resources.demo import demo_jobs

UNITS = Units()


@pytest.mark.parametrize("name", demo_jobs())
def test_no_id_is_shown(name: str) -> None:
    planned = plan(demo_jobs()[name])
    draft, assembly = planned.draft, planned.draft.assembly
    ids = {
        *(p.id for p in assembly.pieces), *(e.id for p in assembly.pieces for e in p.edges), *(j.id for j in assembly.joins),
        *(k.id for p in assembly.pieces for k in (*p.punches, *p.skives)), *(s.id for s in assembly.seats),
        *(s.id for s in assembly.shells), *(f.id for f in assembly.fasteners), *STITCHES, "two-parts", "both-faces", "ball-pen",
    }  # fmt: skip
    shown = [
        *(part.write(UNITS) for k in (*draft.callouts, *planned.measured.callouts) for part in (k.name, *k.choices)),
        *(label.says.write(UNITS) for label in draft.labels), *(f.says.write(UNITS) for f in planned.findings),
        *(m.label.write(UNITS) for f in planned.findings for m in f.mends),
        *(part for station in ("measure", "draft", "stitch", "thread", "layout", "vow", "record")
          for r in planned.sums(station) for part in (r.name.write(UNITS), r.value.write(UNITS), r.sum.write(UNITS),
                                                      *(m.write(UNITS) for m in r.more))),
        *(part for s in planned.work.steps for part in (s.name.write(UNITS), s.says.write(UNITS))),
        *(part for line in read_back(planned) for part in (line.says.write(UNITS), *(m.write(UNITS) for m in line.more))),
        *(part for s in planned.threading.seams for p in prompts(s, planned.job.thread)
          for part in (w.write(UNITS) for w in (p.way, p.how, p.then))),
    ]  # fmt: skip
    leaked = {id: text for id in ids if "-" in id for text in shown if re.search(rf"(?<![\w-]){id}(?![\w-])", text)}
    assert not leaked
