import itertools
from pathlib import Path

import ezdxf
import numpy as np
import pytest
import shapely

from vow_line.core.errors import UnreadableFile
from vow_line.files.outline import read_outline

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" '


def _svg(tmp_path: Path, body: str, size: str = 'width="120mm" height="90mm" viewBox="0 0 120 90"') -> Path:
    path = tmp_path / "drawn.svg"
    path.write_text(f"{HEAD}{size}>{body}</svg>")
    return path


def test_svg_in_any_unit_and_turned_is_read_in_millimetres(tmp_path: Path) -> None:
    inches = 'width="4in" height="2in" viewBox="0 0 400 200"'
    turned = '<g transform="translate(50 20) rotate(30)"><rect width="100" height="40"/></g>'
    drawn = read_outline(_svg(tmp_path, turned, inches))
    assert drawn.scaled
    assert shapely.Polygon(drawn.outline).area == pytest.approx(25.4 * 10.16, rel=1e-3)


def test_curves_are_walked_finely(tmp_path: Path) -> None:
    drawn = read_outline(_svg(tmp_path, '<circle cx="50" cy="45" r="30"/><circle cx="50" cy="45" r="8"/>'))
    apart = np.hypot(*(drawn.outline - 30).T)
    assert apart == pytest.approx(30, abs=0.06)
    assert drawn.others == 1


@pytest.mark.parametrize(
    ("size", "mm"),
    [("96pt", 96 / 72 * 25.4), ("6pc", 25.4), ("2in", 50.8), ("5cm", 50.0), ("100mm", 100.0)],
)
def test_sizes_by_the_rule_of_css_with_a_viewbox_and_without(tmp_path: Path, size: str, mm: float) -> None:
    """CSS Values and Units 3: 1 in = 96 px = 72 pt = 6 pc; without a viewBox a unit is a px."""
    whole = f'width="{size}" height="{size}" viewBox="0 0 200 200"'
    drawn = read_outline(_svg(tmp_path, '<rect width="200" height="100"/>', whole))
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([mm, mm / 2], abs=0.02)
    bare = f'width="{size}" height="{size}"'
    drawn = read_outline(_svg(tmp_path, '<rect width="96" height="48"/>', bare))
    assert drawn.scaled
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([25.4, 12.7], abs=0.02)


@pytest.mark.parametrize("scale", [0.05, 1.0, 40.0])
def test_curves_are_as_fine_after_their_scale_as_before(tmp_path: Path, scale: float) -> None:
    """A circle of 60 mm in small units and in large: nothing farther off than 0.05 mm, no hundreds of points."""
    r = 60.0 / scale
    path = _svg(tmp_path, f'<circle cx="{r}" cy="{r}" r="{r}"/>', f'viewBox="0 0 {2 * r} {2 * r}"')
    drawn = read_outline(path, scale)
    middles = (drawn.outline + np.roll(drawn.outline, 1, axis=0)) / 2
    assert np.hypot(*(middles - 60).T).min() > 60 - 0.08
    assert len(drawn.outline) < 400


def test_what_is_hidden_is_not_read(tmp_path: Path) -> None:
    body = (
        '<rect x="10" y="10" width="50" height="20"/><rect width="110" height="80" visibility="hidden"/>'
        '<g display="none"><rect width="115" height="85"/></g><g style="visibility:hidden"><rect width="9" height="9"/></g>'
    )
    drawn = read_outline(_svg(tmp_path, body))
    assert drawn.others == 0
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([50, 20], abs=0.02)


def test_the_frame_of_a_page_is_not_taken_and_all_that_may_be_meant_is_offered(tmp_path: Path) -> None:
    body = (
        '<rect width="120" height="90"/><path d="M10 10 L90 14 L84 60 L12 50 Z"/><circle cx="30" cy="30" r="2"/>'
        '<rect x="20" y="70" width="40" height="16"/>'
    )
    path = _svg(tmp_path, body)
    drawn = read_outline(path)
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([80, 50], abs=0.05)
    assert [c.frame for c in drawn.candidates] == [True, False, False], "the mark is none of them"
    assert drawn.doubtful
    assert drawn.taken == 1
    assert np.ptp(read_outline(path, which=0).outline, axis=0) == pytest.approx([120, 90], abs=0.05)
    assert np.ptp(read_outline(path, which=2).outline, axis=0) == pytest.approx([40, 16], abs=0.05)
    alone = read_outline(_svg(tmp_path, '<rect width="50" height="20"/><circle cx="30" cy="8" r="2"/>'))
    assert not alone.doubtful, "a tool with a hole is no page"


def test_a_folder_is_said(tmp_path: Path) -> None:
    with pytest.raises(UnreadableFile, match="a folder"):
        read_outline(tmp_path)


def test_dxf_blocks_are_read_and_hidden_layers_are_not(tmp_path: Path) -> None:
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = 4
    block = document.blocks.new("TOOL")
    block.add_lwpolyline([(0, 0), (30, 0), (30, 10), (0, 10)], close=True)
    space = document.modelspace()
    space.add_blockref("TOOL", (5, 5), dxfattribs={"xscale": 2, "yscale": 2, "rotation": 90})
    for name, hide in (("off", "off"), ("frozen", "freeze")):
        getattr(document.layers.add(name), hide)()
        space.add_circle((0, 0), 300, dxfattribs={"layer": name})
    path = tmp_path / "drawn.dxf"
    document.saveas(path)
    drawn = read_outline(path)
    assert drawn.others == 0
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([20, 60], abs=1e-6)


def test_a_dxf_without_a_header_asks(tmp_path: Path) -> None:
    rows = ["0", "SECTION", "2", "ENTITIES"]
    corners = [(0, 0), (70, 0), (70, 30), (0, 30), (0, 0)]
    for (x0, y0), (x1, y1) in itertools.pairwise(corners):
        rows += [
            "0",
            "LINE",
            "8",
            "0",
            "10",
            str(x0),
            "20",
            str(y0),
            "30",
            "0",
            "11",
            str(x1),
            "21",
            str(y1),
            "31",
            "0",
        ]
    path = tmp_path / "bare.dxf"
    path.write_text("\n".join([*rows, "0", "ENDSEC", "0", "EOF"]) + "\n")
    assert not read_outline(path).scaled
    assert np.ptp(read_outline(path, 2.0).outline, axis=0) == pytest.approx([140, 60])


def test_a_periodic_spline_closes(tmp_path: Path) -> None:
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = 4
    turn = np.linspace(0, 2 * np.pi, 12, endpoint=False)
    document.modelspace().add_spline().set_closed([(40 * np.cos(t), 25 * np.sin(t), 0) for t in turn], degree=3)
    path = tmp_path / "round.dxf"
    document.saveas(path)
    drawn = read_outline(path)
    # at a knot a uniform cubic spline is a sixth of its neighbours and four sixths of its own control point
    wide, high = ((2 * np.cos(np.pi / 6) + 4) / 6 * across for across in (80, 50))
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([wide, high], abs=0.05)


def test_without_a_unit_the_scale_is_asked_for(tmp_path: Path) -> None:
    path = _svg(tmp_path, '<rect width="50" height="20"/>', 'viewBox="0 0 100 100"')
    assert not read_outline(path).scaled
    assert np.ptp(read_outline(path, 2.0).outline, axis=0) == pytest.approx([100, 40], rel=1e-3)


def test_open_and_crossing_curves_are_named_with_their_place(tmp_path: Path) -> None:
    with pytest.raises(UnreadableFile, match=r"open: it begins at 10\.0, 10\.0 and ends at 10\.0, 50\.0"):
        read_outline(_svg(tmp_path, '<path d="M10 10 L80 10 L80 50 L10 50"/>'))
    with pytest.raises(UnreadableFile, match=r"crosses itself at 45\.0, 30\.0"):
        read_outline(_svg(tmp_path, '<path d="M10 10 L80 50 L80 10 L10 50 Z"/>'))
    with pytest.raises(UnreadableFile, match="no curve"):
        read_outline(_svg(tmp_path, ""))


@pytest.mark.parametrize(
    "content", [b"", b"<svg", b"\x00\x01\x02", b"<svg xmlns='http://www.w3.org/2000/svg'><path d='M1e999 0 L'/></svg>"]
)
def test_damaged_files_are_refused(tmp_path: Path, content: bytes) -> None:
    for suffix in (".svg", ".dxf"):
        path = tmp_path / f"bad{suffix}"
        path.write_bytes(content)
        with pytest.raises(UnreadableFile):
            read_outline(path)


@pytest.mark.parametrize(("units", "factor", "scaled"), [(4, 1.0, True), (1, 25.4, True), (0, 1.0, False)])
def test_dxf_of_lines_arcs_and_splines_that_join(tmp_path: Path, units: int, factor: float, scaled: bool) -> None:
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = units
    space = document.modelspace()
    space.add_line((0, 0), (60, 0))
    space.add_arc((60, 20), 20, -90, 90)
    space.add_line((60, 40), (0, 40))
    space.add_spline([(0, 40), (-8, 20), (0, 0)])
    path = tmp_path / "drawn.dxf"
    document.saveas(path)
    drawn = read_outline(path)
    assert drawn.scaled is scaled
    wide, high = np.ptp(drawn.outline, axis=0)
    assert high == pytest.approx(40 * factor, rel=2e-3)
    assert wide == pytest.approx(88 * factor, rel=5e-3)
