"""Files and lines of every kind, changed at random: read, or refused in words; never a trace, a hang or all memory."""

import io
import sqlite3
import sys
import tempfile
from collections.abc import Callable
from contextlib import closing, suppress
from functools import cache
from pathlib import Path

import ezdxf
import numpy as np
from PIL import Image

from tests.jobs import demo_jobs
from vow_line.core.errors import VowLineError
from vow_line.files.job_json import dump, read_job
from vow_line.files.outline import read_outline
from vow_line.files.picture import read_picture
from vow_line.instruments.caliper import heard
from vow_line.workshop import Preferences, Workshop

from .trying import Tried, go_on, told

ODD = (b"", b"0", b"-1", b"1e400", b"nan", b"999999999999", b"\x00", b"\xff\xfe", b"<use href='#a'/>", b'"', b"}", b"[[[[",
       b"INSERT", b"null", b"true", b"<!ENTITY a 'b'>", b"%", b"\xe2\x80\xae")  # fmt: skip


def mutant(content: bytes, rng: np.random.Generator) -> bytes:
    """Content changed in a few places: bytes flipped, pieces taken out, put in, doubled, swapped."""
    changed = bytearray(content)
    for _ in range(int(rng.integers(1, 8))):
        at = int(rng.integers(max(len(changed), 1)))
        long = int(rng.integers(1, 60))
        match int(rng.integers(6)):
            case 0 if changed:
                changed[at % len(changed)] = int(rng.integers(256))
            case 1:
                del changed[at : at + long]
            case 2:
                changed[at:at] = ODD[int(rng.integers(len(ODD)))]
            case 3:
                changed[at:at] = changed[at : at + long] * int(rng.integers(1, 40))
            case 4:
                changed[at : at + long] = ODD[int(rng.integers(len(ODD)))]
            case _:
                del changed[at + long * 20 :]
    return bytes(changed)


@cache
def seeds() -> dict[str, list[bytes]]:
    """Good files of each kind, by their suffix."""
    svg = [
        b'<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 120 80"><style>.c{clip-path:url(#k)}'
        b'</style><defs><symbol id="s" viewBox="0 0 9 9"><circle r="3" cx="4" cy="4"/></symbol><clipPath id="k"><rect '
        b'width="90" height="70"/></clipPath></defs><g transform="rotate(3)"><path class="c" d="M5 5 C 9 0 70 2 90 9 A 5 5 0 0 '
        b'1 100 60 L 5 60 Z"/></g><use href="#s" x="9" width="6" height="6"/><line x1="1" y1="2" x2="3" y2="4"/></svg>',
    ]  # fmt: skip
    drawing = ezdxf.new(units=4)
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 0), (100, 0, 0, 0, 0.3), (100, 60), (0, 60)], close=True)
    space.add_circle((50, 30), 2)
    space.add_spline([(0, 0), (5, 9), (9, 2)])
    space.add_ellipse((9, 9), (5, 0), 0.4)
    drawing.blocks.new("A").add_arc((0, 0), 9, 10, 200)
    space.add_blockref(
        "A", (3, 3), dxfattribs={"row_count": 2, "column_count": 3, "row_spacing": 5, "column_spacing": 5}
    )
    text = io.StringIO()
    drawing.write(text)
    pictures = {}
    rng = np.random.default_rng(0)
    for form in ("PNG", "JPEG", "BMP", "TIFF"):
        out = io.BytesIO()
        Image.fromarray(rng.integers(0, 255, (90, 120, 3), np.uint8)).save(out, form)
        pictures[form] = out.getvalue()
    with tempfile.TemporaryDirectory() as folder:
        book = Workshop(Path(folder) / "book")
        for k in range(20):
            book.remember(Path(folder) / f"job {k}")
        book.prefer(Preferences(ink="evening"))
        kept = (Path(folder) / "book").read_bytes()
    return {
        ".vow.json": [dump(job) for job in demo_jobs().values()], ".svg": svg, ".dxf": [text.getvalue().encode()],
        ".csv": [b"x;y\n0;0\n100,5;0\n100;60\n0;60\n", b"0 0\n10 0\n10 10\n"], ".png": list(pictures.values()),
        ".sqlite": [kept], ".line": [b"+000012.340 mm\r\n", b".4858 in", b"1 3/16 in", b"1.2340E+01 mm", b"12. mm", b"slow"],
    }  # fmt: skip


def _book(path: Path) -> None:
    """A damaged book opens, is asked, is written, and is a book afterwards."""
    shop = Workshop(path)
    shop.jobs()
    shop.preferences()
    shop.remember(path)
    shop.tools()
    assert path in shop.jobs() or path.resolve() in shop.jobs()
    if not shop.trouble or "set aside" in shop.trouble:
        with closing(sqlite3.connect(path)) as book:
            assert book.execute("pragma quick_check").fetchone() == ("ok",)


def _line(path: Path) -> None:
    for line in path.read_bytes().splitlines() or [b""]:
        heard(line)


READERS: dict[str, Callable[[Path], object]] = {
    ".vow.json": read_job, ".svg": read_outline, ".dxf": read_outline, ".csv": read_outline, ".png": read_picture,
    ".sqlite": _book, ".line": _line,
}  # fmt: skip


def trial(folder: Path, rng: np.random.Generator) -> Tried:
    """A changed file of some kind."""
    suffix = list(READERS)[int(rng.integers(len(READERS)))]
    good = seeds()[suffix]
    content = mutant(good[int(rng.integers(len(good)))], rng)

    def do() -> None:
        for old in folder.iterdir():
            old.unlink()
        path = folder / f"x{suffix}"
        path.write_bytes(content)
        with suppress(VowLineError):
            READERS[suffix](path)

    return Tried(suffix, content, suffix, do)


if __name__ == "__main__":
    minutes, seed = told("soak files", sys.argv[1:])
    with tempfile.TemporaryDirectory() as made:
        sys.exit(int(go_on("files", lambda rng: trial(Path(made), rng), minutes, seed) > 0))
