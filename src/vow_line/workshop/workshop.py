"""The workshop's book, in SQLite. Its path is given; nothing is read when this module is imported."""

import sqlite3
from collections.abc import Iterable
from contextlib import closing
from dataclasses import asdict, dataclass, fields, replace
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from ..core.errors import FailedWrite

if TYPE_CHECKING:  # the first paint asks for jobs and ink only, and does not wait for the core
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
_RENAMED = """
update observed set factor = 'slack/' || ? || substr(factor, length('slack/' || ?) + 1)
where factor = 'slack/' || ? or substr(factor, 1, length('slack/' || ? || '/')) = 'slack/' || ? || '/'
"""
_STITCHES = ("double running", "awl lockstitch", "edge lacing", "running, down and back")
"""Stitches that what was learned is filed under by name, in books older than 3; now by their ids."""


@dataclass(frozen=True)
class Preferences:
    """How the maker likes the bench."""

    ink: Literal["day", "evening"] = "day"
    sheet: "PrintSheet" = "A4"
    sounds: Literal["on", "off"] = "off"


class Workshop:
    """The book at `path`. Each call opens and closes it, so that two windows can share it."""

    def __init__(self, path: Path) -> None:
        """Begin the book when there is none. Raises FailedWrite when it cannot be."""
        self.path = path
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            with closing(self._open()) as book, book:
                if book.execute("pragma user_version").fetchone() < (3,):  # else it would be written at every start
                    book.executescript(_TABLES)
                    for name in _STITCHES:
                        book.execute(_RENAMED, (name.replace(",", "").replace(" ", "-"), name, name, name, name))
        except (OSError, sqlite3.Error) as error:
            from ..core.texts import tell  # not before the first paint

            raise FailedWrite(
                tell(
                    "The workshop's book cannot be opened: it is damaged, locked by another program, or no book at all."
                )
                if isinstance(error, sqlite3.Error)
                else tell("The workshop's book cannot be opened: {why}.", why=str(error.strerror or error)),
                str(path),
                tell("Look at the folder's permissions, or move the file away: a new one is begun."),
            ) from error

    def _open(self) -> sqlite3.Connection:
        return sqlite3.connect(self.path, timeout=5)

    def jobs(self) -> tuple[Path, ...]:
        """Job files known, the one opened last first; those that are gone are left out."""
        with closing(self._open()) as book:
            rows = book.execute("select path from job order by opened desc").fetchall()
        return tuple(p for (text,) in rows if (p := Path(text)).exists())

    def remember(self, job: Path) -> None:
        """Put a job file on the shelf, foremost."""
        with closing(self._open()) as book, book:
            book.execute(
                "insert or replace into job values (?, (select coalesce(max(opened), 0) + 1 from job))",
                (str(job.resolve()),),
            )

    def forget(self, job: Path) -> None:
        """Take a job file off the shelf; the file stays."""
        with closing(self._open()) as book, book:
            book.execute("delete from job where path = ?", (str(job.resolve()),))

    def observe(self, factor: str, job: str, ratios: Iterable[tuple[str, float]]) -> None:
        """Write down what parts of a job showed of a factor; a part said again replaces what was said of it."""
        with closing(self._open()) as book, book:
            book.executemany(
                "insert or replace into observed values (?, ?, ?, ?)", [(factor, job, p, r) for p, r in ratios]
            )

    def forget_observed(self, job: str) -> None:
        """Take back what a job showed."""
        with closing(self._open()) as book, book:
            book.execute("delete from observed where job = ?", (job,))

    def learned(self, default: float, *of: str) -> "Learned":
        """The factor as learned from all jobs, for the narrowest case that was observed: `of` names it from wide to narrow, as
        what is learned, the stitch, the thread, the maker. One job counts once, by the mean of its parts.
        """
        from ..core.record import learn

        with closing(self._open()) as book:
            for k in range(len(of), 0, -1):
                factor = "/".join(of[:k])
                rows = book.execute(
                    "select exp(avg(ln(ratio))) from observed where (factor = ? or substr(factor, 1, ?) = ?) and ratio > 0 "
                    "group by job order by job", (factor, len(factor) + 1, f"{factor}/"),
                ).fetchall()  # fmt: skip
                if rows:
                    return learn(default, [r for (r,) in rows])
        return learn(default, [])

    def keep_tool(self, tool: "HoleTool") -> None:
        """Keep a tool; one of the same name is replaced."""
        self._keep("tool", tool.name, tool.model_dump_json())

    def keep_thread(self, thread: "Thread") -> None:
        """Keep a thread; one of the same name is replaced."""
        self._keep("thread", thread.name, thread.model_dump_json())

    def _keep(self, sort: str, name: str, value: str) -> None:
        with closing(self._open()) as book, book:
            book.execute("insert or replace into kept values (?, ?, ?)", (sort, name, value))

    def forget_kept(self, name: str) -> None:
        """Take out the tools and threads of that name."""
        with closing(self._open()) as book, book:
            book.execute("delete from kept where name = ?", (name,))

    def tools(self) -> tuple["HoleTool", ...]:
        """The tools kept."""
        from ..core.stitch.tools import HoleTool

        return tuple(HoleTool.model_validate_json(value) for value in self._kept("tool"))

    def threads(self) -> tuple["Thread", ...]:
        """The threads kept."""
        from ..core.thread import Thread

        return tuple(Thread.model_validate_json(value) for value in self._kept("thread"))

    def _kept(self, sort: str) -> list[str]:
        with closing(self._open()) as book:
            rows = book.execute("select told from kept where sort = ? order by name", (sort,)).fetchall()
        return [value for (value,) in rows]

    def preferences(self, unset: Preferences = Preferences()) -> Preferences:
        """The preferences; what is unknown or not set yet is as in `unset`."""
        with closing(self._open()) as book:
            saved = dict(book.execute("select name, value from preference").fetchall())
        kept = {f.name: saved[f.name] for f in fields(Preferences) if f.name in saved}
        if kept.get("ink") not in (None, "day", "evening"):
            del kept["ink"]
        return replace(unset, **kept)

    def prefer(self, preferences: Preferences) -> None:
        """Keep these preferences."""
        with closing(self._open()) as book, book:
            book.executemany("insert or replace into preference values (?, ?)", asdict(preferences).items())
