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
