"""The whole reckoning as JSON, for scripts."""

from typing import Any

from ..core.plan import Plan
from ..core.quantity import Units

# no SUFFIX: a plan is printed, not exported


def as_json(plan: Plan) -> dict[str, Any]:
    """Pieces, seams, thread, steps and findings; lengths in mm, areas in mm², times in minutes."""
    units = Units()
    draft, stitching, threading, work = plan.whole, plan.sewing, plan.threading, plan.work
    return {
        "job": plan.job.name,
        "revision": plan.job.vowed.revision if plan.job.vowed else None,
        "pieces": [
            {
                "id": p.id, "title": p.title.write(units), "name": p.title.write(units), "count": p.count,
                "mirrored": p.mirrored, "side_up": p.side_up,
                "material": p.stock.sort, "thickness_mm": p.thickness_mm,
                "outline_mm": [*p.outline.tolist(), p.outline[0].tolist()],
                "edges": [{"id": e.id, "points_mm": e.line.tolist()} for e in p.edges],
                "folds_mm": [f.tolist() for f in p.folds],
                "punches": [{"id": k.id, "at_mm": list(k.centre), "size_mm": k.diameter_mm} for k in p.punches],
                "area_mm2": p.area_mm2,
            }
            for p in (draft.pieces if draft else ())
        ],
        "joins": [
            {
                "id": j.id, "shape": j.shape,
                "edges": [f"{x.piece}/{x.part}".rstrip("/") for x in j.layers if not x.between],
                "between": [x.piece for x in j.layers if x.between],
            }
            for j in (draft.assembly.joins if draft else ())
        ],
        "seams": [
            {
                "id": s.id, "title": s.title.write(units), "name": s.title.write(units), "holes": len(s.points),
                "pitch_mm": s.pitch_mm,
                "run_mm": s.run_mm,
                "stack_mm": s.stack_mm.tolist(), "points_mm": s.points.tolist(), "order": list(s.order),
                "strikes": [{"first": k.first, "teeth": k.teeth} for k in s.strikes],
            }
            for s in (stitching.seams if stitching else ())
        ],
        "thread": [
            {
                "seam": s.seam.id, "path_mm": s.path_mm, "slack_mm": s.slack_mm, "spare_mm": s.spare_mm,
                "reserve_mm": s.reserve_mm, "total_mm": s.total_mm,
                "lengths_mm": [mm for c in s.cuts for mm in c.thread_mm], "threads": s.stitch.threads,
                "times": s.seam.line.times,
            }
            for s in (threading.seams if threading else ())
        ],
        "steps": [
            {
                "id": s.id, "name": s.name.write(units), "station": s.station, "minutes": s.minutes, "wait": list(s.wait),
                "needs": list(s.needs), "begins": s.begins.isoformat() if s.begins else None, "caution": s.caution.write(units),
            }
            for s in (work.steps if work else ())
        ],
        "proof": [
            {"check": c.id, "title": c.title.write(units), "holds": c.holds, "number": c.number.value, "place": list(c.places)}
            for c in plan.checked
        ],
        "findings": [
            {"level": f.level, "code": f.code, "station": f.station, "at": f.at, "says": f.says.write(units)}
            for f in plan.findings
        ],
    }  # fmt: skip
