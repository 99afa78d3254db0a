"""Format 2 of a job to format 3: a reading said once how it was taken; now each of its two does, an outline beside them."""

import re
from typing import Any

FACTS = ("on", "by", "using")
OUTLINE = "the outline"  # what a width read off a tracing said it was taken with


def upgrade(data: dict[str, Any]) -> dict[str, Any]:
    """A job of format 2 as format 3 says it; what is not as it should be is left to the reader to refuse."""
    new = {**data, **_measured(data), **_tried(data), **_frogged(data)}
    if isinstance(data.get("vows"), list):
        new["vows"] = [
            {**v, **_measured(v), **_tried(v), **_frogged(v)} if isinstance(v, dict) else v for v in data["vows"]
        ]
    return new


def _measured(data: dict[str, Any]) -> dict[str, Any]:
    thing = data.get("thing")
    if not isinstance(thing, dict):
        return {}
    over = thing.get("over")  # what lay between, said once of the whole thing
    return {"thing": _reread({name: value for name, value in thing.items() if name != "over"}, over)}


def _frogged(data: dict[str, Any]) -> dict[str, Any]:
    """A scabbard hung by a belt loop on its cover; it has a frog of its own, whose hanger was that loop."""
    piece = data.get("piece")
    if not isinstance(piece, dict) or piece.get("kind") != "scabbard" or "loop" not in piece:
        return {}
    loop = piece["loop"]
    frog = None if loop is None else {"belt_mm": loop.get("belt_mm", 60.0)} if isinstance(loop, dict) else loop
    new: dict[str, Any] = {"piece": {**{k: v for k, v in piece.items() if k != "loop"}, "frog": frog}}
    work = data.get("work")
    if isinstance(work, dict):
        new["work"] = _renamed(work)
    for field, inside in (("thread", "own"), ("stitch", "own"), ("record", "thread_left")):
        if isinstance(data.get(field), dict):
            new[field] = {**data[field], inside: _renamed(data[field].get(inside, []))}
    return new


def _renamed(of: Any) -> Any:
    """Every `belt-loop` as the hanger that it is."""
    if isinstance(of, dict):
        return {k: _renamed(v) for k, v in of.items()}
    if isinstance(of, list):
        return [_renamed(v) for v in of]
    return re.sub(r"\bbelt-loop\b", "hanger", of) if isinstance(of, str) else of


def _tried(data: dict[str, Any]) -> dict[str, Any]:
    """A correction by 0 was one of which nothing had been said."""
    trials = data.get("trials")
    if not isinstance(trials, list):
        return {}
    return {"trials": [
        {**t, "corrections": [{**c, "by_mm": c.get("by_mm") or None} if isinstance(c, dict) else c
                              for c in t.get("corrections") or []]} if isinstance(t, dict) else t
        for t in trials
    ]}  # fmt: skip


def _reread(of: Any, over: Any) -> Any:
    if isinstance(of, list):
        return [_reread(item, over) for item in of]
    if not isinstance(of, dict):
        return of
    if "first" in of or "second" in of:
        return _reading(of, over)
    return {name: _reread(value, over) for name, value in of.items()}


def _reading(old: dict[str, Any], over: Any) -> dict[str, Any]:
    new = {name: value for name, value in old.items() if name not in FACTS}
    taken = {name: old[name] for name in FACTS if old.get(name)}
    if taken.get("using") == OUTLINE and old.get("second") is None:
        return {**new, "first": None, "outline": old.get("first")}
    for which in ("first", "second"):
        if old.get(which) is not None:
            last = which == "second" or old.get("second") is None  # the facts were the last one's
            facts = {**(taken if last else {}), **({"over": over} if over else {})}
            new |= {f"{which}_taken": facts} if facts else {}
    return new
