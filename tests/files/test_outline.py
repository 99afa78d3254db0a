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
        '<rect x="2" y="2" width="116" height="86"/><path d="M10 10 L90 14 L84 60 L12 50 Z"/><circle cx="30" cy="30" r="2"/>'
        '<rect x="20" y="70" width="40" height="16"/>'
    )
    path = _svg(tmp_path, body)
    drawn = read_outline(path)
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([80, 50], abs=0.05)
    assert [c.frame for c in drawn.candidates] == [True, False, False], "the mark is none of them"
    assert drawn.doubtful
    assert drawn.framed
    assert drawn.taken == 1
    assert np.ptp(read_outline(path, which=0).outline, axis=0) == pytest.approx([116, 86], abs=0.05)
    assert np.ptp(read_outline(path, which=2).outline, axis=0) == pytest.approx([40, 16], abs=0.05)
    alone = read_outline(_svg(tmp_path, '<rect width="50" height="20"/><circle cx="30" cy="8" r="2"/>'))
    assert not alone.doubtful, "a tool with a hole is no page"


@pytest.mark.parametrize("hole", [20, 40])
@pytest.mark.parametrize("one_path", [True, False])
def test_what_is_cut_out_of_a_piece_is_never_taken_for_it(tmp_path: Path, hole: int, one_path: bool) -> None:
    cut = f"M30 10 H{30 + hole} V{10 + hole} H30 Z"
    body = f'<path d="M0 0 H100 V60 H0 Z {cut}"/>' if one_path else f'<path d="M0 0 H100 V60 H0 Z"/><path d="{cut}"/>'
    drawn = read_outline(_svg(tmp_path, body, 'width="180mm" height="90mm" viewBox="0 0 180 90"'))
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([100, 60], abs=0.02)
    assert [c.within for c in drawn.candidates] == ([False, True] if hole == 40 else [False])
    assert not drawn.framed


@pytest.mark.parametrize(
    ("size", "mm"),
    [
        ('width="100mm"', 50.0), ('height="50mm"', 50.0), ('width="100mm" height="100%"', 50.0),
        ('width="100%" height="50mm"', 50.0),
        ('width="100MM" height="50MM"', 50.0), ('width="100 mm" height="50 mm"', 50.0), ('width="400Q" height="200q"', 50.0),
        ('width="1e2mm" height=".5e2mm"', 50.0), ('width="100mm" height="80mm"', 50.0),
        ('width="100%" height="100%"', None), ('width="50em"', None), ('width="100mm" height="50"', None), ("", None),
    ],
)  # fmt: skip
def test_a_drawing_says_how_large_it_is_or_is_asked(tmp_path: Path, size: str, mm: float | None) -> None:
    """By the rules of SVG 2 and CSS: a side not given follows from the view box; a quarter of a millimetre is a Q."""
    drawn = read_outline(_svg(tmp_path, '<rect width="100" height="40"/>', f'{size} viewBox="0 0 200 100"'))
    assert drawn.scaled is (mm is not None)
    if mm is not None:
        assert np.ptp(drawn.outline, axis=0) == pytest.approx([mm, 0.4 * mm], abs=0.02)


def test_what_is_absurdly_small_or_large_is_said(tmp_path: Path) -> None:
    for side, absurd in (("0.9mm", True), ("100mm", False), ("40000mm", True)):
        size = f'width="{side}" viewBox="0 0 100 100"'
        assert read_outline(_svg(tmp_path, '<rect width="90" height="40"/>', size)).absurd is absurd


def test_a_symbol_is_drawn_in_its_own_view_box_and_only_where_it_is_used(tmp_path: Path) -> None:
    symbol = '<symbol id="s" viewBox="0 0 10 10"><path d="M1 1 L9 1 L5 7 Z"/></symbol>'
    use = '<use xlink:href="#s" transform="rotate(90)" x="5" y="-60" width="50" height="50"/>'
    size = 'xmlns:xlink="http://www.w3.org/1999/xlink" width="120mm" height="90mm" viewBox="0 0 120 90"'
    drawn = read_outline(_svg(tmp_path, symbol + use, size))
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([30, 40], abs=0.02)
    assert drawn.others == 0
    with pytest.raises(UnreadableFile, match="no curve"):
        read_outline(
            _svg(tmp_path, symbol + '<defs><path id="p" d="M0 0 H9 V9 Z"/></defs><mask><circle r="20"/></mask>')
        )


def test_clip_paths_leave_what_is_seen(tmp_path: Path) -> None:
    """The area left, against the same boxes laid over each other by hand: on a shape, a group, a class, moved."""
    clip = (
        '<clipPath id="c"><rect x="20" y="10" width="50" height="30"/></clipPath><style>.k{clip-path:url(#c)}</style>'
    )
    shape = '<rect width="60" height="80"/>'
    left = shapely.box(20, 10, 60, 40)
    for body in (
        shape.replace("/>", ' clip-path="url(#c)"/>'), f'<g style="clip-path: url(#c)">{shape}</g>',
        f'<g class="k">{shape}</g>',
        f'<g transform="translate(30 5)" clip-path="url(#c)">{shape}</g>',
        f'<g clip-path="url(#c)"><g clip-path="url(#c)">{shape}</g></g>',
    ):  # fmt: skip
        drawn = read_outline(_svg(tmp_path, clip + body))
        assert shapely.Polygon(drawn.outline).area == pytest.approx(left.area, rel=1e-3)
        assert np.ptp(drawn.outline, axis=0) == pytest.approx([40, 30], abs=0.02)
    away = f'{clip}<defs><g id="d">{shape}</g></defs><use href="#d" clip-path="url(#c)"/>'
    assert shapely.Polygon(read_outline(_svg(tmp_path, away)).outline).area == pytest.approx(left.area, rel=1e-3)
    clipped = shape.replace("/>", ' clip-path="url(#c)"/>')
    for defined in (clipped.replace("<rect", '<rect id="d"'), f'<g id="d">{clipped}</g>'):
        once = f'{clip}<defs>{defined}</defs><use href="#d"/>'
        assert shapely.Polygon(read_outline(_svg(tmp_path, once)).outline).area == pytest.approx(left.area, rel=1e-3)
        twice = read_outline(_svg(tmp_path, f'{once}<use href="#d" transform="translate(0 45)" x="7"/>'))
        assert [(c.wide, c.high) for c in twice.candidates] == [pytest.approx((40, 30), abs=0.05)] * 2, (
            "where it is shown"
        )
    page = '<clipPath id="c"><rect width="120" height="90"/></clipPath><circle cx="50" cy="45" r="30" clip-path="url(#c)"/>'
    assert read_outline(_svg(tmp_path, page)).others == 0, "a clip that cuts nothing is no curve"


def test_an_open_outline_never_gives_way_to_what_is_smaller(tmp_path: Path) -> None:
    body = '<path d="M10 10 H90 V50 H10 V13"/><circle cx="110" cy="50" r="8"/>'
    path = _svg(tmp_path, body)
    with pytest.raises(UnreadableFile, match=r"open: it begins at 10\.0, 10\.0 and ends at 10\.0, 13\.0"):
        read_outline(path)
    assert np.ptp(read_outline(path, which=0).outline, axis=0) == pytest.approx([16, 16], abs=0.1), "it was asked for"
    loose = '<path d="M20 20 L60 45"/><path d="M0 88 H120"/>'
    drawn = read_outline(_svg(tmp_path, f'<path d="M10 10 H90 V50 H10 Z"/>{loose}'))
    assert np.ptp(drawn.outline, axis=0) == pytest.approx([80, 40], abs=0.02), (
        "a fold line and a base line are no outlines"
    )


@pytest.mark.parametrize("seed", range(12))
def test_loose_lines_with_fold_lines_and_loose_ends_are_the_outline_they_go_round(tmp_path: Path, seed: int) -> None:
    """A ring of 6 to 16 corners round a middle, none nearer than 20 to it, in single lines of either direction and any order;
    a fold line from corner to corner inside it and one from edge to edge, wherever on them; a line drawn twice, and a measure
    line from a corner outwards.
    """
    rng = np.random.default_rng(seed)
    n = int(rng.integers(6, 17))
    turns = np.sort((np.arange(n) + rng.uniform(-0.3, 0.3, n)) * 2 * np.pi / n)
    ring = np.round(60 + rng.uniform(20, 50, n)[:, None] * np.column_stack([np.cos(turns), np.sin(turns)]), 3)
    truth = shapely.Polygon(ring)
    lines = [(ring[k], ring[(k + 1) % n]) for k in range(n)]
    apart = [(j, k) for j, k in itertools.combinations(range(n), 2) if 1 < k - j < n - 1]
    across = [shapely.LineString([ring[j], ring[k]]) for j, k in apart]
    inside = [c for c in across if truth.covers(c)]
    folds = [tuple(shapely.get_coordinates(c)) for c in inside]
    lines += [folds[k] for k in rng.permutation(len(folds))[:1]]
    on = [np.round(a + rng.uniform(0.2, 0.8) * (b - a), 3) for a, b in lines[:n]]
    edged = [(on[j], on[k]) for j, k in itertools.combinations(range(n), 2)
             if truth.buffer(0.01).covers(shapely.LineString([on[j], on[k]]))]  # fmt: skip
    lines += [edged[k] for k in rng.permutation(len(edged))[:1]]
    lines.append(lines[int(rng.integers(n))])
    lines.append((ring[0], ring[0] + 0.3 * (ring[0] - 60)))
    order = rng.permutation(len(lines))
    drawn = [lines[k][:: rng.choice([1, -1])] for k in order]
    body = "".join(f'<path d="M{a[0]} {a[1]} L{b[0]} {b[1]}"/>' for a, b in drawn)
    found = read_outline(_svg(tmp_path, body))
    placed = shapely.Polygon(found.outline + ring.min(axis=0))
    assert placed.symmetric_difference(truth).area < 0.001 * truth.area


def test_a_file_of_points_is_one_outline_with_y_up(tmp_path: Path) -> None:
    """However its numbers are parted, and with a decimal comma too; against the points it was written from."""
    rng = np.random.default_rng(3)
    ring = np.array([[0, 0], [80, 0], [80, 30.5], [20, 42.25]]) + rng.uniform(0, 5, (4, 2))
    truth = shapely.Polygon((ring - ring.min(axis=0)) * [1, -1] + [0, np.ptp(ring[:, 1])])
    for apart, comma in ((" ", False), ("\t", True), (",", False), (", ", False), (";", True), ("  ; ", False)):
        rows = [f"{x!s}{apart}{y!s}" for x, y in ring.tolist()]
        rows = [row.replace(".", ",") for row in rows] if comma else rows
        path = tmp_path / "points.csv"
        path.write_text("\n".join(["# a knife", f"x{apart}y", *rows, ""]))
        assert not read_outline(path).scaled, "it is asked what one is"
        drawn = read_outline(path, 1.0)
        assert shapely.Polygon(drawn.outline).symmetric_difference(truth).area < 0.01
    path.write_text("0 0\n10 0\n10 oops\n0 10\n")
    with pytest.raises(UnreadableFile, match=r"Line 3 is not an x and a y: 10 oops"):
        read_outline(path)
    path.write_text("0 0\n10 0\n")
    with pytest.raises(UnreadableFile, match="2 points"):
        read_outline(path)


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


def test_what_a_block_is_placed_on_hides_it(tmp_path: Path) -> None:
    """Frozen: all of it. Off or not plotted: what lies on layer 0 in it. Common practice of drawing programs."""
    for how, seen in (("freeze", []), ("off", [20]), ("no plot", [20]), ("", [60, 20])):
        document = ezdxf.new("R2010")
        document.header["$INSUNITS"] = 4
        layer = document.layers.add("PLACED")
        document.layers.add("OWN")
        block = document.blocks.new("TOOL")
        block.add_lwpolyline([(0, 0), (60, 0), (60, 30), (0, 30)], close=True)
        block.add_lwpolyline([(100, 0), (120, 0), (120, 20), (100, 20)], close=True, dxfattribs={"layer": "OWN"})
        document.modelspace().add_blockref("TOOL", (5, 5), dxfattribs={"layer": "PLACED"})
        if how == "no plot":
            layer.dxf.plot = 0
        elif how:
            getattr(layer, how)()
        path = tmp_path / "blocks.dxf"
        document.saveas(path)
        if not seen:
            with pytest.raises(UnreadableFile, match="no curve"):
                read_outline(path)
        else:
            assert [c.wide for c in read_outline(path).candidates] == pytest.approx(seen)


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
