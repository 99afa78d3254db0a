"""What nobody means well by: drawings that show themselves, pictures that say they are huge, pipes and devices. Each ends in
words; what of it is honest and large takes as long as reading it does.
"""

import io
import json
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pytest
from ezdxf.document import Drawing
from PIL import Image

from vow_line.core.curve import Line
from vow_line.core.errors import UnreadableFile, VowLineError
from vow_line.core.job import change
from vow_line.core.plan import plan
from vow_line.files.job_json import dump, read_job
from vow_line.files.outline import _closed, read_outline
from vow_line.files.picture import MOST_PX, read_picture
from vow_line.resources.demo import demo_jobs

pytestmark = pytest.mark.timeout(60)  # where a guard is gone, they take minutes or all memory
HEAD = '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">'
RECT = '<rect width="50" height="40"/>'


def _doubled(tag: str) -> str:
    again = "".join(f'<{tag} id="a{k + 1}"><use href="#a{k}"/><use href="#a{k}"/></{tag}>' for k in range(22))
    return f'{HEAD}<{tag} id="a0">{RECT}</{tag}>{again}<use href="#a22"/></svg>'


SVGS = {
    "uses doubled 22 times": (_doubled("g"), "again and again"),
    "symbols doubled 22 times": (_doubled("symbol"), "again and again"),
    "a use of what holds it": (
        f'{HEAD}{RECT}<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g></svg>', "again and again"),
    "entities of entities": (
        '<!DOCTYPE svg [<!ENTITY a "lol">' + "".join(
            f'<!ENTITY {c} "{(f"&{p};") * 10}">' for p, c in zip("abcdefgh", "bcdefghi", strict=True)
        ) + f"]>{HEAD}<text>&i;</text>{RECT}</svg>", "again and again"),
    "one long entity, often": (
        f'<!DOCTYPE svg [<!ENTITY a "{"x" * 100_000}">]>{HEAD}<text>{"&a;" * 50_000}</text>{RECT}</svg>', "again and again"),
    "a circle of 1e15": (f'{HEAD}<circle r="1e15"/></svg>', "kilometres away"),
    "no numbers": (f'{HEAD}<path d="M nan 0 L 1e400 5 L 3 3 Z"/></svg>', "no curve"),
    "100,000 deep": (f"{HEAD}{'<g>' * 100_000}{RECT}{'</g>' * 100_000}</svg>", "damaged"),
    "more points than any": (f'{HEAD}<path d="M0 0 {"A 5 5 0 0 1 9 9 " * 20_000}"/></svg>', "more points"),
}  # fmt: skip


@pytest.mark.parametrize("name", SVGS)
def test_a_drawing_that_would_never_end_is_refused(name: str, tmp_path: Path) -> None:
    text, says = SVGS[name]
    path = tmp_path / "x.svg"
    path.write_text(text)
    with pytest.raises(UnreadableFile, match=says):
        read_outline(path)


@pytest.mark.parametrize("sheet", [".a{" * 100_000, "}" * 100_000, "/*" * 100_000, " " * 200_000, "a" * 300_000])
def test_an_odd_style_sheet_hinders_nothing(sheet: str, tmp_path: Path) -> None:
    path = tmp_path / "x.svg"
    path.write_text(f'{HEAD}<style>{sheet}</style><text style="font: {"a " * 5000}">a</text>{RECT}</svg>')
    assert np.ptp(read_outline(path).outline, axis=0) == pytest.approx([50, 40])


def _blocks(of: int) -> Callable[[Drawing], None]:
    def draw(drawing: Drawing) -> None:
        drawing.blocks.new("B0").add_line((0, 0), (1, 1))
        for k in range(of):
            block = drawing.blocks.new(f"B{k + 1}")
            block.add_blockref(f"B{k}", (0, 0))
            block.add_blockref(f"B{k}", (1, 0))
        drawing.modelspace().add_blockref(f"B{of}", (0, 0))

    return draw


def _itself(drawing: Drawing) -> None:
    drawing.blocks.new("A").add_blockref("A", (0, 0))
    drawing.modelspace().add_blockref("A", (0, 0))


def _rows(drawing: Drawing) -> None:
    drawing.blocks.new("A").add_circle((0, 0), 10)
    placed = drawing.modelspace().add_blockref("A", (0, 0))
    placed.dxf.row_count = placed.dxf.column_count = 32_000
    placed.dxf.row_spacing = placed.dxf.column_spacing = 1.0


DXFS: dict[str, tuple[Callable[[Drawing], object], str]] = {
    "blocks doubled 22 times": (_blocks(22), "again and again"),
    "a block in itself": (_itself, "again and again"),
    "1e9 in rows": (_rows, "again and again"),
    "a circle of 1e15": (lambda d: d.modelspace().add_circle((0, 0), 1e15), "kilometres away"),
    "an ellipse of 1e12": (lambda d: d.modelspace().add_ellipse((0, 0), (1e12, 0), 0.5), "kilometres away"),
    "a spline out to 1e14": (lambda d: d.modelspace().add_spline([(0, 0), (1e14, 3), (5, 1e14), (0, 0)]), "kilometres away"),
    "many large circles": (
        lambda d: [d.modelspace().add_circle((0, 0), 9e6) for _ in range(3000)], "more points"),
}  # fmt: skip


@pytest.mark.parametrize("name", DXFS)
def test_a_dxf_that_would_never_end_is_refused(name: str, tmp_path: Path) -> None:
    draw, says = DXFS[name]
    drawing = ezdxf.new(units=4)
    draw(drawing)
    path = tmp_path / "x.dxf"
    drawing.saveas(path)
    with pytest.raises(UnreadableFile, match=says):
        read_outline(path)


def test_a_damaged_dxf_ends_in_words(tmp_path: Path) -> None:
    """Lines cut, doubled, changed and swapped at random: read, or refused; never a trace."""
    drawing = ezdxf.new(units=4)
    space = drawing.modelspace()
    space.add_lwpolyline([(0, 0), (100, 0), (100, 60), (0, 60)], close=True)
    space.add_circle((50, 30), 2)
    space.add_spline([(0, 0), (5, 9), (9, 2)])
    drawing.blocks.new("A").add_arc((0, 0), 9, 10, 200)
    space.add_blockref("A", (3, 3))
    written = io.StringIO()
    drawing.write(written)
    lines = written.getvalue().splitlines()
    rng = np.random.default_rng(7)
    path = tmp_path / "x.dxf"
    for _ in range(30):
        mutant = list(lines)
        for at in rng.integers(len(mutant), size=rng.integers(1, 30)):
            odd = str(rng.choice(["", "0", "-1", "1e400", "nan", "INSERT", "A", "999999999999", "\x00"]))
            match rng.integers(3):
                case 0:
                    mutant[at] = odd
                case 1:
                    mutant.insert(at, odd)
                case _:
                    del mutant[at % len(mutant)]
        path.write_text("\n".join(mutant))
        read = _read_or_says(read_outline, path)
        assert "x.dxf" in read if isinstance(read, str) else np.isfinite(read.outline).all()


def _read_or_says(read: Callable[[Path], Any], path: Path) -> Any:
    """What is read, or the words of why not."""
    try:
        return read(path)
    except UnreadableFile as error:
        return str(error)


READERS: tuple[Callable[[Path], object], ...] = (read_job, read_outline, read_picture)


@pytest.mark.parametrize("read", READERS)
def test_pipes_devices_folders_and_links_to_themselves_are_no_files(
    read: Callable[[Path], object], tmp_path: Path
) -> None:
    os.mkfifo(tmp_path / "pipe.svg")
    (tmp_path / "device.svg").symlink_to("/dev/zero")
    (tmp_path / "folder.svg").mkdir()
    (tmp_path / "itself.svg").symlink_to(tmp_path / "itself.svg")
    for path in sorted(tmp_path.iterdir()):
        with pytest.raises(VowLineError, match=path.name):
            read(path)


@pytest.mark.parametrize("form", ["PNG", "JPEG", "BMP", "TIFF"])
def test_a_picture_is_measured_before_it_is_made(form: str, tmp_path: Path) -> None:
    """In grey of one tone, at its smallest; it says what it is, and is larger than any."""
    side = int(MOST_PX**0.5) + 300
    path = tmp_path / "x.png"
    Image.new("L" if form != "BMP" else "1", (side, side)).save(
        path, form, **({"compression": "tiff_lzw"} if form == "TIFF" else {})
    )
    with pytest.raises(UnreadableFile, match="million pixels"):
        read_picture(path)
    Image.new("L", (60, 40), 200).save(path, form)
    assert read_picture(path).shape == (40, 60, 3)
    content = path.read_bytes()
    for cut in (0, 1, 20, len(content) // 2):
        path.write_bytes(content[:cut])
        read = _read_or_says(read_picture, path)
        assert "x.png" in read if isinstance(read, str) else read.shape == (40, 60, 3)


@pytest.mark.parametrize("place", ["accepted", "vows", "trials"])
def test_a_list_without_end_in_a_job_is_counted_not_read(place: str, tmp_path: Path) -> None:
    """Of a million wrong things each would be told, for a minute."""
    path = tmp_path / "x.vow.json"
    path.write_text(json.dumps(json.loads(dump(demo_jobs()["laying-knife"])) | {place: [0] * 1_000_000}))
    with pytest.raises(UnreadableFile, match="1000000 of one thing"):
        read_job(path)
    path.write_text(json.dumps({"format": 3, "name": {str(k): 0 for k in range(100_000)}}))
    with pytest.raises(UnreadableFile, match="100000 of one thing"):
        read_job(path)


def test_the_slowest_pace_is_still_planned() -> None:
    job = change(demo_jobs()["laying-knife"], "work.pace_mm_per_min", 0.1)
    work = plan(job).work
    assert work is not None
    assert work.steps
    with pytest.raises(VowLineError, match="too small"):
        change(job, "work.pace_mm_per_min", 1e-9)


def _loose(n: int) -> list[list[Line]]:
    """Lines that go round, that hang on a tail, and that lie loose, n of each, with a triangle."""
    turn = np.linspace(0, 2 * np.pi, n + 1)
    ring = n * np.column_stack([np.cos(turn), np.sin(turn)])
    tail = np.column_stack([np.arange(n + 1.0), np.sin(np.arange(n + 1.0))])
    apart = np.random.default_rng(n).normal(0, n, (n, 1, 2)) + [[0, 0], [1, 1]]
    triangle = np.array([[0, 0], [-5, 5], [5, 5], [0, 0]], float)
    return [[ring[k : k + 2] for k in range(n)], [*(tail[k : k + 2] for k in range(n)), triangle], [*apart, triangle]]


def test_thousands_of_loose_lines_are_joined() -> None:
    """Each has one ring: the circle by its length, the triangle; quadratic, it would take minutes."""
    round_, tail, apart = (_closed(lines, Path("x"))[0] for lines in _loose(10_000))
    assert [len(found) for found in (round_, tail, apart)] == [1, 1, 1]
    sides = np.hypot(*np.diff(np.vstack([round_[0], round_[0][:1]]), axis=0).T)
    assert sides.sum() == pytest.approx(2 * np.pi * 10_000, rel=1e-6)
    assert len(tail[0]) == len(apart[0]) == 3
