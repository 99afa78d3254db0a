import json
import os
from datetime import date
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.jobs import any_job, demo, plain_job
from vow_line.core.errors import FailedWrite, UnreadableFile
from vow_line.core.job import Job
from vow_line.core.measure import Reading, Taken
from vow_line.files.job_json import dump, file_name, load, read_job, schema, upgraded, write_job
from vow_line.files.whole import write_whole


@given(any_job)
def test_a_job_comes_back_as_it_was(job: Job) -> None:
    assert load(dump(job), "here") == job


@pytest.mark.parametrize("name", ["laying-knife", "hedging-knife", "spar-knife", "grafting-knife"])
def test_the_schema_describes_the_jobs_written(name: str) -> None:
    jsonschema.Draft202012Validator(schema()).validate(json.loads(dump(demo(name))))


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"\x00\xffnonsense", "not JSON"),
        (b'{"format": 1, "name": "half', "not JSON"),
        (b"[1, 2]", "no format number"),
        (b'{"something": "else"}', "no format number"),
        (b'{"format": 99}', "format 99; this program reads up to 3"),
        (b'{"format": 0}', "never a format 0"),
        (b"[" * 100_000, "not JSON"),
    ],
)
def test_damaged_and_foreign_files_are_refused_in_words(content: bytes, says: str) -> None:
    with pytest.raises(UnreadableFile, match=says) as caught:
        load(content, "job.vow.json")
    assert "job.vow.json" in str(caught.value)


def test_a_wrong_number_is_named_with_its_place() -> None:
    told = json.loads(dump(plain_job()))
    told["thing"]["stations"][1]["width"]["first"] = -4
    told["piece"]["margin_mm"] = "wide"
    with pytest.raises(UnreadableFile, match=r"thing\.stations\.1\.width\.first.*2 places"):
        load(json.dumps(told).encode(), "job")


def _places(told: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    inner = told.items() if isinstance(told, dict) else enumerate(told) if isinstance(told, list) else ()
    return [at, *(place for k, v in inner for place in _places(v, (*at, k)))]


@given(st.data())
def test_whatever_is_damaged_is_named_in_the_programs_own_words(data: st.DataObject) -> None:
    told = json.loads(dump(demo("spar-knife")))
    *way, last = data.draw(st.sampled_from(_places(told)[1:]))
    holder = told
    for step in way:
        holder = holder[step]
    holder[last] = data.draw(st.sampled_from(["odd", -1e9, 1e9, None, [], {}, [1, "odd"], {"odd": 1}, True]))
    says_of = "here: "
    try:
        load(json.dumps(told).encode(), "here")
    except UnreadableFile as error:
        says_of = str(error)
    theirs = ("Input should", "should be a valid", "Value error", "Extra inputs", "Field required", "validation")
    assert says_of.startswith("here: ")
    assert not any(words in says_of for words in theirs), says_of


def test_numbers_that_are_not_numbers_are_refused() -> None:
    text = dump(plain_job()).decode().replace('"margin_mm": 3.5', '"margin_mm": NaN', 1)
    assert "NaN" in text
    with pytest.raises(UnreadableFile):
        load(text.encode(), "job")


def test_readings_of_format_2_keep_how_they_were_taken() -> None:
    facts = {"on": "2026-11-12", "by": "Hazel", "using": "caliper"}
    data = json.loads(dump(plain_job()))
    data["format"], thing = 2, data["thing"]
    thing["over"] = "the liner"
    thing["length"] = {"first": 120.0, "second": 120.4, **facts}
    thing["handle_length"] = {"first": 110.0, "using": "the outline", "on": "2026-11-12", "by": "Hazel"}
    thing["stations"][0]["width"] = {"first": 30.0, **facts}
    job = load(json.dumps(data).encode(), "job")
    length, first = job.thing.length, job.thing.stations[0].width
    assert (length.first_taken, length.second_taken) == (
        Taken(over="the liner"),
        Taken(on=date(2026, 11, 12), by="Hazel", using="caliper", over="the liner"),
    )
    assert first.first_taken == length.second_taken
    assert job.thing.handle_length == Reading(outline=110.0), "what a tracing gave stands beside the readings"


def test_an_older_format_is_upgraded_step_by_step() -> None:
    def one(told: dict[str, Any]) -> dict[str, Any]:
        return {"format": 1, "title": told["heading"]}

    def two(told: dict[str, Any]) -> dict[str, Any]:
        return {"format": 2, "name": told["title"]}

    got = upgraded({"format": 1, "heading": "knife"}, {1: one, 2: two}, 3, "here")
    assert got == {"format": 3, "name": "knife"}


def test_the_last_good_version_stays_beside(tmp_path: Path) -> None:
    path = tmp_path / "knife.vow.json"
    first, second = plain_job(), plain_job(margin_mm=4.0)
    write_job(first, path)
    write_job(second, path)
    assert read_job(path) == second
    assert read_job(tmp_path / "knife.vow.json~") == first
    assert {p.name for p in tmp_path.iterdir()} == {"knife.vow.json", "knife.vow.json~"}


def test_a_folder_that_cannot_be_made_and_a_disk_that_is_full(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "knife.vow.json"
    write_job(plain_job(), path)
    with pytest.raises(FailedWrite, match="could not be written"):
        write_whole(path / "below a file" / "x", b"")
    monkeypatch.setattr(os, "fsync", lambda _: (_ for _ in ()).throw(OSError(28, "No space left on device")))
    with pytest.raises(FailedWrite, match=r"No space left on device.*untouched"):
        write_job(plain_job(margin_mm=4.0), path)
    monkeypatch.undo()
    assert read_job(path) == plain_job()
    assert [p.name for p in tmp_path.iterdir()] == ["knife.vow.json"], "nothing half-written stays"


def test_a_missing_file_says_so(tmp_path: Path) -> None:
    with pytest.raises(UnreadableFile, match="could not be opened"):
        read_job(tmp_path / "none.vow.json")


def test_file_names_from_job_names() -> None:
    assert file_name("Laying knife, second!") == "laying-knife-second"
    assert file_name("///") == "job"
