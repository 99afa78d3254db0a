"""Format 1 of a job to format 2: names that were shown became ids that are saved, a wooden core two mirrored halves."""

import re
from collections.abc import Iterator
from typing import Any

HALVES = {"core half": ("core-front", "core-back"), "lining": ("lining-front", "lining-back")}
EDGES = {"ends": "end-1", "long edges": "right", "end by the hand": "hand-end", "far end": "far-end"}
SKIVES = {"welt": ("mouth",), "toe guard": ("top",), "stop ring": ("end-1", "end-2")}
BOTH_HOLES = ("front-hole", "back-hole")

Told = dict[str, Any]


def slug(name: str) -> str:
    """A name of format 1 as an id."""
    return re.sub(r"[^\w]+", "-", name)


def upgrade(data: Told) -> Told:
    """A job of format 1 as format 2 says it; what is not as it should be is left to the reader to refuse."""
    names = _Names(data)
    new = _decided(data, names)
    new["vows"] = [_decided(v, _Names(v)) for v in _list(data.get("vows"))]
    thread = _slugged(_dict(data.get("thread")), "stitch", "butt_stitch", "start", "finish", "join")
    slack = _dict(thread.get("slack"))
    if slack and not slack.get("jobs"):  # what no job has taught was the spread of makers, not of their next jobs
        thread["slack"] = {k: v for k, v in slack.items() if k != "spread"}
    thread["own"] = [_slugged(o, "seam", "stitch") for o in _list(thread.get("own"))]
    work = _dict(data.get("work"))
    work["done"] = [t for tick in _list(work.get("done")) for t in names.ticks(tick)]
    for field in ("sewn", "in_hand"):
        work[field] = [_slugged(s, "seam") for s in _list(work.get(field))]
    record = _dict(data.get("record"))
    record["thread_left"] = [_slugged(t, "seam") for t in _list(record.get("thread_left"))]
    return {**new, "thread": thread, "work": work, "record": record}


def _decided(data: Told, names: "_Names") -> Told:
    """What was measured and chosen, of a job or a vow."""
    new = dict(data)
    for part, fields in (("thing", ("drawn_with",)), ("piece", ("form", "placing")), ("stitch", ("through",))):
        if part in new:
            new[part] = _slugged(_dict(new[part]), *fields)
    new["ornaments"] = [
        {**_slugged(o, "kind"), "piece": names.pieces(o.get("piece", ""))[0]} for o in _list(data.get("ornaments"))
    ]
    new["accepted"] = [{**a, "at": names.place(str(a.get("at", "")))} for a in _list(data.get("accepted"))]
    return new


class _Names:
    """What pieces and steps of a job, or of what was vowed of it, are called now."""

    def __init__(self, data: Told) -> None:
        self.ornaments = _list(data.get("ornaments"))
        straps = _dict(_dict(data.get("piece")).get("straps")).get("count")
        self.straps = min(straps, 6) if isinstance(straps, int) else 0

    def pieces(self, name: str) -> tuple[str, ...]:
        """The ids of a piece, two where it has become two."""
        if name.startswith("overlay on the "):
            under = name.removeprefix("overlay on the ")
            for n, ornament in enumerate(self.ornaments):
                if ornament.get("kind") == "overlay" and ornament.get("piece") == under:
                    return (f"overlay-{n + 1}",)
        if name == "strap" and self.straps > 1:  # straps that are not alike are pieces of their own now
            return ("strap", *(f"strap-{k + 1}" for k in range(self.straps)))
        return HALVES.get(name, (slug(name),))

    def place(self, at: str) -> str:
        """A place that a finding named."""
        if at.startswith("leather:"):
            return f"leather:{self.pieces(at.removeprefix('leather:'))[0]}"
        if at.startswith("record/"):
            return slug_path(at)
        return next(iter(self.steps(at)), at) if "/" in at else at

    def ticks(self, tick: Told) -> Iterator[Told]:
        """A tick for each step that a step has become; the minutes it took stay with the first."""
        for k, step in enumerate(self.steps(str(tick.get("step", "")))):
            yield {**tick, "step": step} if k == 0 else {**tick, "step": step, "minutes": None, "slip": ""}

    def steps(self, step: str) -> Iterator[str]:
        """The ids of the steps that a step of format 1 has become; none where nothing is left of it."""
        what, _, rest = step.partition("/")
        name, _, part = rest.partition("/")
        match what:
            case "cut" | "slots":
                yield from (f"{what}/{p}" for p in self.pieces(name))
            case "craft":
                yield from self._crafts(name, part)
            case "skive":
                ids = SKIVES.get(name, ("1",))
                yield f"skive/{slug(name)}/{ids[min(int(part or 1), len(ids)) - 1]}"
            case "punch" if name == "strip":
                yield from (f"punch/strip/{hole}" for hole in BOTH_HOLES)
            case "edge" if (name, part) == ("strip", "around"):
                yield "edge/halves"
            case "edge" if (name, part) == ("cover", "foot"):
                return  # finished with the cap now
            case "punch" if part:
                yield from (f"punch/{p}/{slug(part)}" for p in self.pieces(name))
            case "edge" if part:
                yield from (f"edge/{p}/{EDGES.get(part, slug(part))}" for p in self.pieces(name))
            case "fix" if name == "core half":
                yield "fix/core"
            case "fix":
                yield from (f"fix/{p}" for p in self.pieces(name))
            case _:
                yield slug_path(step)

    def _crafts(self, piece: str, number: str) -> Iterator[str]:
        """Work on a piece was numbered by its ornaments; an overlay is a join now."""
        on = [(n, o) for n, o in enumerate(self.ornaments) if o.get("piece") == piece]
        if not number.isdigit() or int(number) >= len(on):
            return
        n, ornament = on[int(number)]
        if ornament.get("kind") == "overlay":
            yield f"fix/overlay-{n + 1}"
        else:
            plain = [m for m, o in on if o.get("kind") != "overlay"]
            yield f"craft/{slug(piece)}/{plain.index(n)}"


def slug_path(path: str) -> str:
    """Each part of a path as an id."""
    return "/".join(slug(part) for part in path.split("/"))


def _slugged(data: Told, *fields: str) -> Told:
    return {k: slug(v) if k in fields and isinstance(v, str) else v for k, v in data.items()}


def _dict(value: Any) -> Told:
    return dict(value) if isinstance(value, dict) else {}


def _list(value: Any) -> list[Told]:
    return [v for v in value if isinstance(v, dict)] if isinstance(value, list) else []
