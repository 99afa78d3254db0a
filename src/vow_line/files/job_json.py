"""A job as JSON with a format number. Older formats are upgraded step by step, a newer one is refused."""

import json
import re
import unicodedata
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..core.errors import NewerFormat, UnreadableFile
from ..core.job import FORMAT, Job, refused
from ..core.quantity import Units
from ..core.texts import said, tell
from . import format_1, format_2
from .whole import read_whole, write_whole

JOB_SUFFIX = ".vow.json"
MOST_BYTES = 20_000_000
MOST_ITEMS = 5000
MOST_NAME = 200  # bytes of a file's name before its suffix and number

Upgrade = Callable[[dict[str, Any]], dict[str, Any]]
UPGRADES: Mapping[int, Upgrade] = {1: format_1.upgrade, 2: format_2.upgrade}
"""For each older format the step to the next. Format 1 is the first."""


def file_name(name: str) -> str:
    """A job's name as the name of a file: its words, joined by hyphens, as many as leave room for any suffix."""
    words = re.sub(r"[^\w]+", "-", unicodedata.normalize("NFC", name).lower())
    return words.encode(errors="ignore")[:MOST_NAME].decode(errors="ignore").strip("-") or "job"


def write_job(job: Job, path: Path, *, part: bool = False) -> None:
    """Write the job; the last good file stays beside it as `NAME~`. Raises FailedWrite, HasOtherNames."""
    write_whole(path, dump(job), keep_last=True, part=part)


def dump(job: Job) -> bytes:
    """The job as UTF-8 JSON; the same job gives the same bytes."""
    return (job.model_dump_json(indent=1) + "\n").encode()


def read_job(path: Path) -> Job:
    """Read a job. Raises UnreadableFile, naming the place in the file that is wrong."""
    return load(read_whole(path, MOST_BYTES), str(path))


def load(content: bytes, where: str) -> Job:
    """A job from its JSON. Raises UnreadableFile."""
    last = tell("The last good version may stand beside it, with ~ after its name.")
    try:
        data = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise UnreadableFile(tell("It is damaged, or not a job: it is not JSON."), where, last) from error
    if not isinstance(data, dict) or not isinstance(data.get("format"), int):
        raise UnreadableFile(tell("It is not a Vow Line job: it has no format number."), where)
    if (long := _longest(data)) > MOST_ITEMS:
        raise UnreadableFile(tell("There are {n} of one thing in it; no job has so many.", n=str(long)), where, last)
    data = upgraded(data, UPGRADES, FORMAT, where)
    try:
        return Job.model_validate_json(json.dumps(data))
    except ValidationError as error:
        wrong = error.errors()
        first = wrong[0]
        place = ".".join(_steps(data, first["loc"])) or tell("the whole")
        why = said("At {place}: {why}", place=place, why=refused(first))
        if len(wrong) > 1:
            why = said("{one} ({n} places are wrong in all.)", one=why, n=len(wrong))
        raise UnreadableFile(why.write(Units()), where, last) from error


def _longest(data: Any) -> int:
    """How long the longest list in it is, or how many names one record has, as far as it is looked through: none is looked
    into that is too long, where what is wrong with each would be told.
    """
    longest, waiting = 0, [data]
    while waiting and longest <= MOST_ITEMS:
        one = waiting.pop()
        if isinstance(one, dict | list):
            longest = max(longest, len(one))
            waiting.extend(one.values() if isinstance(one, dict) else one)
    return longest


def _steps(data: Any, place: tuple[str | int, ...]) -> list[str]:
    """The steps to a place in the file, without the names of kinds that the validator puts between them."""
    found = []
    for step in place:
        if isinstance(data, dict) and step not in data and step in (data.get("kind"), data.get("body")):
            continue
        found.append(str(step))
        inside = isinstance(data, dict) and step in data
        inside = inside or (isinstance(data, list) and isinstance(step, int) and step < len(data))
        data = data[step] if inside else None
    return found


def upgraded(data: dict[str, Any], steps: Mapping[int, Upgrade], newest: int, where: str) -> dict[str, Any]:
    """What an older file says, in the newest format. Raises UnreadableFile for a newer one or a step that is missing."""
    number = data["format"]
    if number > newest:
        raise NewerFormat(
            tell(
                "It is of format {number}; this program reads up to {newest}.", number=str(number), newest=str(newest)
            ),
            where,
            tell("Open it with a newer Vow Line."),
        )
    while number < newest:
        if number not in steps:
            raise UnreadableFile(tell("There was never a format {number}.", number=str(number)), where)
        data = {**steps[number](dict(data)), "format": number + 1}
        number += 1
    return data


def schema() -> dict[str, Any]:
    """The JSON Schema of a job."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **Job.model_json_schema()}
