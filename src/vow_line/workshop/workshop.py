"""The workshop's book, in SQLite. Its path is given; nothing is read when this module is imported."""

import os
import sqlite3
import time
from collections.abc import Callable, Iterable
from contextlib import closing, suppress
from dataclasses import asdict, dataclass, fields, replace
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal, TypeVar

if TYPE_CHECKING:  # the first paint asks for jobs and ink only, and does not wait for the core
    from ..core.frozen import Frozen
    from ..core.measure.kept import KeptThing
    from ..core.quantity import PrintSheet
    from ..core.record import Learned
    from ..core.stitch.tools import HoleTool
    from ..core.thread import Thread

_TABLES = """
create table if not exists job (path text primary key, opened integer not null);
create table if not exists observed (factor text not null, job text not null, part text not null, ratio real not null,
    primary key (factor, job, part));
create table if not exists kept (sort text not null, name text not null, told text not null, primary key (sort, name));
create table if not exists preference (name text primary key, value text not null);
pragma user_version = 3;
"""
_COLUMNS = {
    "job": "path, opened", "observed": "factor, job, part, ratio", "kept": "sort, name, told", "preference": "name, value",
}  # fmt: skip
BROKEN = (sqlite3.Error, UnicodeDecodeError)  # the second where the very names in a book are damaged
WAIT_S, AGAIN_S = 0.1, 1.0  # for another program that holds the book; before it is tried again
BACKUP_DAYS, BACKUPS = 7, 5
_IN_MIND = "file:workshop-{}?mode=memory&cache=shared"
Kept = TypeVar("Kept", bound="Frozen")
_RENAMED = """
update observed set factor = 'slack/' || ? || substr(factor, length('slack/' || ?) + 1)
where factor = 'slack/' || ? or substr(factor, 1, length('slack/' || ? || '/')) = 'slack/' || ? || '/'
"""
_STITCHES = ("double running", "awl lockstitch", "edge lacing", "running, down and back")
"""Stitches that what was learned is filed under by name, in books older than 3; now by their ids."""


SPEEDS = ("1200", "2400", "4800", "9600", "19200", "38400", "57600", "115200")
"""What a caliper's line may run at, in baud."""


LARGER = ("100", "125", "150")
"""How large everything on the screen may be, in percent."""


@dataclass(frozen=True)
class Preferences:
    """How the maker likes the bench."""

    ink: Literal["day", "evening"] = "day"
    sheet: "PrintSheet" = "A4"
    sounds: Literal["on", "off"] = "off"
    caliper_unit: Literal["sent", "mm", "in"] = "sent"
    caliper_speed: str = "9600"
    larger: Literal["100", "125", "150"] = "100"
    asks: Literal["here", "across"] = "here"


class Workshop:
    """The book at `path`, its owner's alone. Each call opens and closes it, so that two windows can share it.

    It never keeps a job from opening, nor the desk waiting. A book that is damaged is set aside under the day's date and begun
    again from what can be read of it and of the last backup; one that another program holds is read as it is, and what is
    written waits in mind until it is let go; where none can be kept, all stays in mind until the program ends. `trouble` then
    says so, and `on_trouble` is told.
    """

    def __init__(self, path: Path) -> None:
        """Begin the book when there is none."""
        self.path = path
        self.on_trouble: Callable[[str], None] = lambda _: None
        self._why: tuple[str, str] | None = None
        self._held: sqlite3.Connection | None = None
        self._waiting: list[tuple[str, list[tuple[object, ...]]]] = []
        self._tried = 0.0
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            self._its_owners()
            self._begin()
        except OSError as error:
            self._keep_in_mind(error.strerror or str(error))
        except BROKEN as error:
            self._failed(error)

    @property
    def trouble(self) -> str:
        """What is not kept, or was set aside, and why; nothing where all is well."""
        if self._why is None:
            return ""
        from ..core.texts import tell  # not before the first paint

        what, detail = self._why
        if what == "aside":
            return tell("The workshop's book was damaged: it is set aside as {name}, and begun again from what could be read.",
                        name=detail)  # fmt: skip
        if "locked" in detail:
            return tell(
                "Another program holds the workshop's book: what is to be written in it waits until that lets it go."
            )
        known = {
            "readonly": tell("it may not be written"),
            "unable to open": tell("it cannot be opened"), "full": tell("the disk is full"),
        }  # fmt: skip
        why = next((says for word, says in known.items() if word in detail), detail)
        return tell(
            "The workshop's book cannot be kept ({why}): what it learns is forgotten when the program ends.", why=why
        )

    def _its_owners(self) -> None:
        """Keep the book from others' eyes; what is written beside it while it changes follows its mode."""
        with suppress(OSError):
            os.close(os.open(self.path, os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600))
            if self.path.stat().st_mode & 0o077:
                self.path.chmod(0o600)

    def _begin(self) -> None:
        with closing(self._open()) as book, book:
            if book.execute("pragma quick_check").fetchone() != ("ok",):
                raise sqlite3.DatabaseError("malformed")
            if book.execute("pragma user_version").fetchone() < (3,):  # else it would be written at every start
                book.executescript(_TABLES)
                for name in _STITCHES:
                    book.execute(_RENAMED, (name.replace(",", "").replace(" ", "-"), name, name, name, name))
            for table, columns in _COLUMNS.items():
                book.execute(f"select {columns} from {table} limit 1")

    def _open(self) -> sqlite3.Connection:
        if self._held is not None:
            return sqlite3.connect(_IN_MIND.format(id(self)), uri=True)
        return sqlite3.connect(self.path, timeout=WAIT_S)

    def _failed(self, error: Exception) -> None:
        """Begin again beside what is damaged, or in mind where nothing can be kept."""
        damaged = not isinstance(error, sqlite3.OperationalError) or "no such" in str(error)
        if not damaged or self._held is not None:
            self._keep_in_mind(str(error))
            return
        aside = self.path.with_name(f"{self.path.stem} {datetime.now():%Y-%m-%d %H%M%S}{self.path.suffix}")
        try:
            self.path.rename(aside)
            self._its_owners()
            self._begin()
            for source in (aside, *self.backups()[:1]):
                self._take_from(source, self._open)
        except (OSError, *BROKEN) as another:
            self._keep_in_mind(str(getattr(another, "strerror", None) or another))
            return
        self._tell("aside", aside.name)

    def _keep_in_mind(self, why: str) -> None:
        if self._held is None:
            self._held = sqlite3.connect(_IN_MIND.format(id(self)), uri=True)
            self._held.executescript(_TABLES)
            if "locked" in why:  # whoever holds it may be writing: what can be read past that is better than nothing
                self._take_from(self.path, self._open, "?mode=ro&immutable=1")
        self._tell("mind", why)

    def _let_go(self) -> None:
        """Go back to the book where nobody else holds it any more, and write down what waited."""
        if self._held is None or "locked" not in (self._why or ("", ""))[1] or time.monotonic() - self._tried < AGAIN_S:
            return
        self._tried = time.monotonic()
        try:
            with closing(sqlite3.connect(self.path, timeout=0.0)) as book, book:
                book.execute("begin immediate")
                for sql, rows in self._waiting:
                    book.executemany(sql, rows)
        except BROKEN:
            return
        self._held.close()
        self._held, self._why = None, None
        self._waiting.clear()

    def _tell(self, what: str, detail: str) -> None:
        if self._why != (what, detail):
            self._why = (what, detail)
            self.on_trouble(self.trouble)

    def _take_from(self, source: Path, into: Callable[[], sqlite3.Connection], how: str = "?mode=ro") -> None:
        """Whatever rows can be read of another book, table by table, where there are none yet."""
        with suppress(*BROKEN), closing(sqlite3.connect(f"{source.resolve().as_uri()}{how}", uri=True)) as old, \
                closing(into()) as book:  # fmt: skip
            for table, columns in _COLUMNS.items():
                with suppress(*BROKEN):
                    for row in old.execute(f"select {columns} from {table}"):
                        with suppress(*BROKEN):
                            marks = ", ".join("?" * len(row))
                            book.execute(f"insert or ignore into {table} ({columns}) values ({marks})", row)
            book.commit()

    def _ask(self, sql: str, given: tuple[object, ...] = ()) -> list[tuple[Any, ...]]:
        """What the book says; nothing where it cannot be read."""
        self._let_go()
        try:
            with closing(self._open()) as book:
                return book.execute(sql, given).fetchall()
        except BROKEN as error:
            self._failed(error)
        try:
            with closing(self._open()) as book:
                return book.execute(sql, given).fetchall()
        except BROKEN:
            return []

    def _write(self, sql: str, rows: Iterable[tuple[object, ...]]) -> None:
        """Write rows, in another book where this one will not have them."""
        rows = list(rows)
        self._let_go()
        for _ in range(2):
            try:
                with closing(self._open()) as book, book:
                    book.executemany(sql, rows)
                if self._held is not None:
                    self._waiting.append((sql, rows))
                return
            except BROKEN as error:
                self._failed(error)

    def backups(self) -> tuple[Path, ...]:
        """The backups of the book, the newest first."""
        return tuple(sorted(self.path.parent.glob(f"{self.path.stem}-20??-??-??.backup"), reverse=True))

    def back_up(self, today: date) -> Path | None:
        """Copy the book where the last copy is a week old, and keep five; where it is, or None. Raises nothing."""
        there = self.backups()
        newest = there[0].stem[-10:] if there else ""
        if self._held is not None or newest > (today - timedelta(days=BACKUP_DAYS)).isoformat():
            return None
        copy = self.path.with_name(f"{self.path.stem}-{today}.backup")
        part = copy.with_suffix(".part")
        try:
            os.close(os.open(part, os.O_CREAT | os.O_WRONLY | os.O_TRUNC | os.O_CLOEXEC, 0o600))
            with closing(sqlite3.connect(self.path, timeout=WAIT_S)) as book, closing(sqlite3.connect(part)) as into:
                book.backup(into)
            part.replace(copy)
            for old in self.backups()[BACKUPS:]:
                old.unlink()
        except (OSError, *BROKEN):
            with suppress(OSError):
                part.unlink()
            return None
        return copy

    def jobs(self) -> tuple[Path, ...]:
        """Job files known, the one opened last first; those that are gone are left out."""
        return tuple(
            p for (text,) in self._ask("select path from job order by opened desc") if (p := Path(str(text))).exists()
        )

    def remember(self, job: Path) -> None:
        """Put a job file on the shelf, foremost."""
        self._write(
            "insert or replace into job values (?, (select coalesce(max(opened), 0) + 1 from job))",
            [(str(job.resolve()),)],
        )

    def forget(self, job: Path) -> None:
        """Take a job file off the shelf; the file stays."""
        self._write("delete from job where path = ?", [(str(job.resolve()),)])

    def observe(self, factor: str, job: str, ratios: Iterable[tuple[str, float]]) -> None:
        """Write down what parts of a job showed of a factor; a part said again replaces what was said of it."""
        self._write("insert or replace into observed values (?, ?, ?, ?)", [(factor, job, p, r) for p, r in ratios])

    def forget_observed(self, job: str) -> None:
        """Take back what a job showed."""
        self._write("delete from observed where job = ?", [(job,)])

    def learned(self, default: float, *of: str) -> "Learned":
        """The factor as learned from all jobs, for the narrowest case that was observed: `of` names it from wide to narrow, as
        what is learned, the stitch, the thread, the maker. One job counts once, by the mean of its parts.
        """
        from ..core.record import learn

        for k in range(len(of), 0, -1):
            factor = "/".join(of[:k])
            rows = self._ask(
                "select exp(avg(ln(ratio))) from observed where (factor = ? or substr(factor, 1, ?) = ?) "
                "and typeof(ratio) = 'real' and ratio > 0 group by job order by job",
                (factor, len(factor) + 1, f"{factor}/"),
            )
            if rows:
                return learn(default, [r for (r,) in rows])
        return learn(default, [])

    def keep_tool(self, tool: "HoleTool") -> None:
        """Keep a tool; one of the same name is replaced."""
        self._keep("tool", tool.name, tool.model_dump_json())

    def keep_thread(self, thread: "Thread") -> None:
        """Keep a thread; one of the same name is replaced."""
        self._keep("thread", thread.name, thread.model_dump_json())

    def keep_measured(self, kept: "KeptThing") -> None:
        """Keep what was measured; what has the same name is replaced."""
        self._keep("measured", kept.name, kept.model_dump_json())

    def _keep(self, sort: str, name: str, value: str) -> None:
        self._write("insert or replace into kept values (?, ?, ?)", [(sort, name, value)])

    def forget_kept(self, name: str) -> None:
        """Take out the tools, threads and measures of that name."""
        self._write("delete from kept where name = ?", [(name,)])

    def tools(self) -> tuple["HoleTool", ...]:
        """The tools kept; one that a newer program wrote otherwise is left out."""
        from ..core.stitch.tools import HoleTool

        return self._kept("tool", HoleTool)

    def threads(self) -> tuple["Thread", ...]:
        """The threads kept, as the tools are."""
        from ..core.thread import Thread

        return self._kept("thread", Thread)

    def measured(self) -> tuple["KeptThing", ...]:
        """What was measured and kept, as the tools are."""
        from ..core.measure.kept import KeptThing

        return self._kept("measured", KeptThing)

    def _kept(self, sort: str, model: "type[Kept]") -> "tuple[Kept, ...]":
        found = []
        for (value,) in self._ask("select told from kept where sort = ? order by name", (sort,)):
            with suppress(ValueError):
                found.append(model.model_validate_json(value))
        return tuple(found)

    def preferences(self, unset: Preferences = Preferences()) -> Preferences:
        """The preferences; what is unknown or not set yet is as in `unset`."""
        saved = dict(self._ask("select name, value from preference"))
        known = {
            "ink": ("day", "evening"), "sheet": ("A4", "Letter"), "sounds": ("on", "off"),
            "caliper_unit": ("sent", "mm", "in"), "caliper_speed": SPEEDS, "larger": LARGER, "asks": ("here", "across"),
        }  # fmt: skip
        return replace(
            unset, **{f.name: saved[f.name] for f in fields(Preferences) if saved.get(f.name) in known[f.name]}
        )

    def prefer(self, preferences: Preferences) -> None:
        """Keep these preferences."""
        self._write("insert or replace into preference values (?, ?)", asdict(preferences).items())
