import sqlite3
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest

from vow_line.workshop import Preferences, Workshop, workshop


def test_jobs_stay_on_the_shelf_last_opened_first(tmp_path: Path) -> None:
    book = tmp_path / "book.sqlite"
    for name in ("a", "b", "c"):
        (tmp_path / name).write_text("")
        Workshop(book).remember(tmp_path / name)
    Workshop(book).remember(tmp_path / "a")
    (tmp_path / "b").unlink()
    assert [p.name for p in Workshop(book).jobs()] == ["a", "c"]
    Workshop(book).forget(tmp_path / "c")
    assert [p.name for p in Workshop(book).jobs()] == ["a"]


def test_each_job_counts_once_however_often_it_is_recorded(tmp_path: Path) -> None:
    shop = Workshop(tmp_path / "book.sqlite")
    assert shop.learned(1.03, "slack", "saddle").factor == pytest.approx(1.03)
    for _ in range(2):
        shop.observe("slack/saddle", "one", [("main", 1.06), ("loop", 1.06)])
    once = shop.learned(1.03, "slack", "saddle")
    assert once.jobs == 1
    assert once.factor == pytest.approx((1.03 * 1.06) ** 0.5)
    shop.observe("slack/saddle", "two", [("main", 1.06)])
    assert shop.learned(1.03, "slack", "saddle").factor > once.factor


def test_preferences_are_kept(tmp_path: Path) -> None:
    shop = Workshop(tmp_path / "book.sqlite")
    assert shop.preferences() == Preferences()
    shop.prefer(Preferences("evening", "Letter"))
    assert Workshop(tmp_path / "book.sqlite").preferences() == Preferences("evening", "Letter")


def _kept_book(path: Path) -> None:
    shop = Workshop(path)
    for k in range(30):
        job = path.parent / f"job {k}"
        job.write_text("")
        shop.remember(job)
        shop.observe("slack/saddle", str(k), [("main", 1.08)])
    shop.prefer(Preferences("evening"))


@pytest.mark.parametrize("damage", ["garbage", "cut short", "no table", "no column", "a page of noise"])
def test_a_damaged_book_is_set_aside_and_begun_again_from_what_can_be_read(tmp_path: Path, damage: str) -> None:
    path = tmp_path / "book.sqlite"
    _kept_book(path)
    content = path.read_bytes()
    if damage == "garbage":
        path.write_bytes(b"this is not a database, and long enough to be read as one" * 20)
    elif damage == "cut short":
        path.write_bytes(content[: len(content) // 2])
    elif damage == "a page of noise":
        path.write_bytes(content[:8192] + bytes(range(256)) * 16 + content[12288:])
    else:
        with closing(sqlite3.connect(path)) as raw, raw:
            raw.execute(
                "drop table kept" if damage == "no table" else "alter table preference rename column value to worth"
            )
    shop = Workshop(path)
    aside = list(tmp_path.glob("book *.sqlite"))
    assert len(aside) == 1
    assert aside[0].name in shop.trouble
    if damage.startswith("no"):
        assert len(shop.jobs()) == 30, "what can be read is kept"
        assert shop.learned(1.03, "slack", "saddle").jobs == 30
    shop.remember(tmp_path / "job 3")
    again = Workshop(path)
    assert again.trouble == "", "it is whole now"
    assert again.jobs()[0].name == "job 3"


def test_a_book_damaged_while_it_is_open_says_so_and_goes_on(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    _kept_book(path)
    shop = Workshop(path)
    told: list[str] = []
    shop.on_trouble = told.append
    path.write_bytes(b"no book at all " * 300)
    assert shop.jobs() == ()
    shop.remember(tmp_path / "job 1")
    assert [p.name for p in shop.jobs()] == ["job 1"]
    assert len(told) == 1
    assert "set aside" in told[0]


def test_where_no_book_can_be_kept_the_program_goes_on_and_says_why(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("in the way")
    nowhere = Workshop(tmp_path / "file" / "book.sqlite")
    assert "cannot be kept" in nowhere.trouble
    job = tmp_path / "job"
    job.write_text("")
    nowhere.remember(job)
    nowhere.prefer(Preferences("evening"))
    assert nowhere.jobs() == (job,)
    assert nowhere.preferences().ink == "evening"
    assert nowhere.learned(1.03, "slack").jobs == 0


def test_a_locked_book_is_read_as_it_is_and_written_when_it_is_let_go(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """And the desk waits for it once, for a tenth of a second, however often it is asked."""
    path = tmp_path / "book.sqlite"
    _kept_book(path)
    shop, known = Workshop(path), Workshop(path).jobs()
    told: list[str] = []
    shop.on_trouble = told.append
    connect, waits = sqlite3.connect, list[float]()

    def counted(*given: Any, **more: Any) -> sqlite3.Connection:
        waits.append(more.get("timeout", 0.0) if not more.get("uri") else 0.0)
        return connect(*given, **more)

    monkeypatch.setattr(sqlite3, "connect", counted)
    job = tmp_path / "job new"
    job.touch()
    with closing(connect(path)) as other:
        other.execute("begin exclusive")
        shop.remember(job)
        assert "another program holds" in shop.trouble.lower()
        for _ in range(20):
            assert shop.jobs() == (job, *known)
            shop.prefer(Preferences(ink="evening"))
        opened = Workshop(path)
        assert opened.jobs() == known, "one opened meanwhile reads it too"
        other.rollback()
    assert told == [shop.trouble]
    assert sum(waits) < 0.5
    monkeypatch.setattr(workshop, "AGAIN_S", 0.0)
    assert shop.jobs() == (job, *known)
    assert shop.trouble == ""
    again = Workshop(path)
    assert again.jobs() == (job, *known)
    assert again.preferences().ink == "evening"


def test_a_book_whose_names_are_no_text_is_set_aside(tmp_path: Path) -> None:
    """Found at random: a byte changed in the name of a table."""
    path = tmp_path / "book.sqlite"
    _kept_book(path)
    path.write_bytes(
        path.read_bytes().replace(b"TABLE job ", b"TABLE j\x92b ").replace(b"table job ", b"table j\x92b ")
    )
    mended = Workshop(path)
    mended.remember(tmp_path / "job 1")
    assert "set aside" in mended.trouble
    assert mended.jobs() is not None


def test_the_book_is_its_owners_alone(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    Workshop(path).remember(tmp_path / "a")
    assert path.stat().st_mode & 0o777 == 0o600
    path.chmod(0o644)
    assert Workshop(path).back_up(date(2026, 3, 1)) is not None
    assert {p.stat().st_mode & 0o777 for p in tmp_path.glob("book*")} == {0o600}


def test_a_backup_a_week_is_kept_and_five_of_them(tmp_path: Path) -> None:
    """Opened every day for ten weeks; each is a whole book, as it was that day."""
    path = tmp_path / "book.sqlite"
    shop, first, made = Workshop(path), date(2026, 1, 1), []
    for day in range(70):
        (tmp_path / f"job {day}").touch()
        shop.remember(tmp_path / f"job {day}")
        copy = shop.back_up(first + timedelta(days=day))
        made += [(day, copy)] if copy else []
    assert [day for day, _ in made] == list(range(0, 70, 7))
    assert shop.backups() == tuple(copy for _, copy in reversed(made[-5:]))
    for day, copy in made[-5:]:
        assert copy is not None
        with closing(sqlite3.connect(copy)) as book:
            assert book.execute("select count(*) from job").fetchone() == (day + 1,)


def test_what_a_damaged_book_lost_comes_back_from_its_backup(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    shop = Workshop(path)
    jobs = [tmp_path / f"job {k}" for k in range(30)]
    for job in jobs:
        job.touch()
        shop.remember(job)
    shop.prefer(Preferences(ink="evening"))
    assert shop.back_up(date(2026, 3, 1)) is not None
    path.write_bytes(b"SQLite format 3\0" + b"\xff" * 5000)
    mended = Workshop(path)
    assert "set aside" in mended.trouble
    assert set(mended.jobs()) == set(jobs)
    assert mended.preferences().ink == "evening"


def test_a_row_of_a_newer_program_is_passed_over(tmp_path: Path) -> None:
    from vow_line.core.thread import Thread

    path = tmp_path / "book.sqlite"
    Workshop(path).keep_thread(Thread(name="brown"))
    with closing(sqlite3.connect(path)) as raw, raw:
        raw.execute("insert into kept values ('thread', 'odd', '{\"name\": \"odd\", \"glows\": true}')")
        raw.execute("insert into kept values ('thread', 'worse', 'not json')")
        raw.execute("insert into observed values ('slack/saddle', 'a', 'b', 'much')")
        raw.execute("insert into preference values ('ink', 'plaid')")
        raw.execute("pragma user_version = 9")
    shop = Workshop(path)
    assert [t.name for t in shop.threads()] == ["brown"]
    assert shop.learned(1.03, "slack", "saddle").jobs == 0
    assert shop.preferences() == Preferences()
    assert shop.trouble == ""


def test_tools_and_threads_are_kept_by_name(tmp_path: Path) -> None:
    from vow_line.core.stitch.tools import HoleTool
    from vow_line.core.thread import Thread

    shop = Workshop(tmp_path / "book.sqlite")
    assert shop.tools() == ()
    shop.keep_tool(HoleTool(name="mine", pitch_mm=3.0, teeth=(5, 1)))
    shop.keep_tool(HoleTool(name="mine", pitch_mm=3.2, teeth=(5, 1)))
    shop.keep_thread(Thread(name="brown", colour="brown", diameter_mm=0.6))
    again = Workshop(tmp_path / "book.sqlite")
    assert [t.pitch_mm for t in again.tools()] == [3.2]
    assert [t.colour for t in again.threads()] == ["brown"]
    again.forget_kept("mine")
    assert again.tools() == ()


def test_a_wearers_measures_are_kept_with_the_day_they_were_read(tmp_path: Path) -> None:
    from datetime import date

    from tests.jobs import demo
    from vow_line.core.job import change
    from vow_line.core.measure.kept import KeptThing
    from vow_line.core.measure.readings import Taken, every_reading

    arm = change(demo("thorn-cuff"), "thing.stations.1.girth.first_taken", Taken(on=date(2026, 3, 1), by="Hazel")).thing
    Workshop(tmp_path / "book.sqlite").keep_measured(KeptThing.now("Wren's left arm", arm, date(2026, 11, 20)))
    (kept,) = Workshop(tmp_path / "book.sqlite").measured()
    assert (kept.name, kept.on, type(kept.thing)) == ("Wren's left arm", date(2026, 11, 20), type(arm))
    was, now = dict(every_reading(arm, "thing")), dict(every_reading(kept.thing, "thing"))
    assert {p: (r.first, r.second) for p, r in was.items()} == {p: (r.first, r.second) for p, r in now.items()}
    days = {(t.on, t.by) for r in now.values() for t in r.facts()}
    assert days == {(date(2026, 11, 20), ""), (date(2026, 3, 1), "Hazel")}, "what was dated keeps its day"


def test_a_book_of_an_older_version_is_kept_and_gains_what_is_new(tmp_path: Path) -> None:
    import sqlite3

    path = tmp_path / "book.sqlite"
    with sqlite3.connect(path) as book:
        book.executescript(
            "create table job (path text primary key, opened integer not null);"
            f"insert into job values ('{tmp_path}', 1); pragma user_version = 1;"
        )
    shop = Workshop(path)
    assert shop.jobs() == (tmp_path,)
    assert shop.threads() == ()


def test_what_was_learned_is_of_the_narrowest_case_there_is(tmp_path: Path) -> None:
    shop = Workshop(tmp_path / "book.sqlite")
    shop.observe("slack/saddle/linen/Ansel", "one", [("main", 1.10)])
    shop.observe("slack/saddle/linen/Wren", "two", [("main", 1.02)])
    shop.observe("slack/whip/linen/Ansel", "three", [("main", 1.30)])
    mine = shop.learned(1.03, "slack", "saddle", "linen", "Ansel")
    assert mine.jobs == 1
    assert mine.factor == pytest.approx((1.03 * 1.10) ** 0.5)
    assert shop.learned(1.03, "slack", "saddle", "nylon", "Ansel").jobs == 2, (
        "of any saddle stitch, where none was of nylon"
    )
    assert shop.learned(1.03, "slack", "zigzag", "linen", "Ansel").jobs == 3, "of any stitch, where none was zigzag"
    shop.forget_observed("one")
    assert shop.learned(1.03, "slack", "saddle", "linen", "Ansel").jobs == 1


def test_what_was_learned_of_a_stitch_stays_its_own_when_it_is_known_by_its_id(tmp_path: Path) -> None:
    path = tmp_path / "book.sqlite"
    book = Workshop(path)
    book.observe("slack/running, down and back/dark linen/Ansel Tarn", "a", [("seam", 1.2)])
    book.observe("slack/saddle/dark linen", "b", [("seam", 1.1)])
    with closing(sqlite3.connect(path)) as raw, raw:
        raw.execute("pragma user_version = 2")
    again = Workshop(path)
    assert again.learned(1.03, "slack", "running-down-and-back", "dark linen").jobs == 1
    assert again.learned(1.03, "slack", "saddle").jobs == 1
