"""The printed pattern measured on the rendered page."""

import itertools

import numpy as np
import pypdfium2
import pytest
import shapely

from tests.jobs import demo, words
from vow_line.core.draft.ornament import Ornament
from vow_line.core.drawing import Mark
from vow_line.core.job import change
from vow_line.core.meanings import PRINTS
from vow_line.core.plan import Plan, plan
from vow_line.core.quantity import Q
from vow_line.core.texts import said
from vow_line.files import pdf

DOTS = 300
PX_MM = DOTS / 25.4


def _pages(name: str, sheet: str) -> tuple[list[np.ndarray], list[str], list[tuple[float, float]]]:
    return _rendered(plan(demo(name)), sheet)


def _rendered(planned: Plan, sheet: str) -> tuple[list[np.ndarray], list[str], list[tuple[float, float]]]:
    document = pypdfium2.PdfDocument(pdf.render(planned, sheet))  # type: ignore[arg-type]
    pages = [document[i] for i in range(len(document))]
    images = [np.asarray(p.render(scale=DOTS / 72).to_pil().convert("L")) for p in pages]
    texts = [p.get_textpage().get_text_range() for p in pages]
    sizes = [p.get_size() for p in pages]
    document.close()
    return images, texts, sizes


@pytest.mark.parametrize(("sheet", "size"), [("A4", (210.0, 297.0)), ("Letter", (215.9, 279.4))])
def test_the_check_lengths_are_true_on_every_page(qapp: object, sheet: str, size: tuple[float, float]) -> None:
    images, texts, sizes = _pages("laying-knife", sheet)
    assert len(images) >= 3
    for image, text, page in zip(images, texts, sizes, strict=True):
        assert tuple(v / 72 * 25.4 for v in page) == pytest.approx(size, abs=0.3)
        for long_mm, up_mm in ((100.0, 3.0), (101.6, 12.0)):
            y = round((size[1] - pdf.BORDER_MM - up_mm) * PX_MM)
            dark = image[y - 4 : y + 5] < 128
            row = dark[int(np.argmax(dark[:, : round(130 * PX_MM)].sum(axis=1)))]
            run = np.flatnonzero(row[: round((pdf.BORDER_MM + long_mm + 1) * PX_MM)])
            assert (run[-1] - run[0]) / PX_MM == pytest.approx(long_mm, abs=0.25)
        assert "not vowed" in text
        assert "side up" in text
        assert "not mirrored" in text
        assert "best way" in text or "any way" in text


def test_the_piece_is_printed_at_its_size(qapp: object) -> None:
    planned = plan(demo("grafting-knife"))
    images, texts, _ = _pages("grafting-knife", "A4")
    assert "revision 1" in texts[0]
    piece = planned.draft.pieces[0]  # type: ignore[union-attr]
    assert len(pdf.tiles(piece, pdf.SHEETS_MM["A4"])) == 1
    top = round((pdf.BORDER_MM + pdf.HEAD_MM + 0.5) * PX_MM)
    left = round((pdf.BORDER_MM + 0.5) * PX_MM)
    wide, high = np.ptp(piece.outline, axis=0)
    body = images[0][top : top + round((high + 2) * PX_MM), left : left + round((wide + 2) * PX_MM)] < 100
    rows, columns = np.flatnonzero(body.any(axis=1)), np.flatnonzero(body.any(axis=0))
    assert (rows[-1] - rows[0]) / PX_MM == pytest.approx(high, abs=0.5)
    assert (columns[-1] - columns[0]) / PX_MM == pytest.approx(wide, abs=0.5)


def test_tiles_cover_the_piece_and_overlap() -> None:
    piece = plan(demo("laying-knife")).draft.pieces[0]  # type: ignore[union-attr]
    small = (120.0, 150.0)
    tiles = pdf.tiles(piece, small)
    assert len(tiles) == tiles[0].columns * tiles[0].rows > 1
    room = pdf._room(small)
    covered = [(t.left_mm, t.left_mm + room[0], t.top_mm, t.top_mm + room[1]) for t in tiles]
    for x, y in piece.outline:
        assert any(a <= x <= b and c <= y <= d for a, b, c, d in covered)
    lefts = sorted({t.left_mm for t in tiles})
    assert all(b - a == pytest.approx(room[0] - pdf.OVERLAP_MM) for a, b in itertools.pairwise(lefts))


@pytest.mark.parametrize("kind", ["border", "stamped-area", "overlay"])
def test_an_ornament_is_on_the_printed_page(qapp: object, kind: str) -> None:
    """Half of its ring and more is dark where nothing was without it (a dashed line is half dark)."""
    plain = demo("turf-knife")
    worn = change(plain, "ornaments", (Ornament(kind=kind, piece="front", in_mm=9.0),))
    piece = plan(plain).draft.piece("front")
    ring = shapely.Polygon(piece.outline).buffer(-9.0).exterior
    at = shapely.get_coordinates(ring.interpolate(np.arange(0, ring.length, 0.5)))
    corner = np.array([pdf.BORDER_MM, pdf.BORDER_MM + pdf.HEAD_MM]) - (piece.outline.min(axis=0) - 1)
    dark = []
    for job in (plain, worn):
        image = _rendered(plan(job), "A4")[0][0]
        rows = np.round((at + corner) * PX_MM).astype(int)
        dark.append(np.mean([(image[y - 2 : y + 3, x - 2 : x + 3] < 128).any() for x, y in rows]))
    assert dark[0] < 0.15 < 0.45 < dark[1]


def test_only_what_is_cut_is_a_whole_line_and_the_key_names_the_others(qapp: object) -> None:
    worn = tuple(Ornament(kind=k, piece="front", in_mm=by) for k, by in (("border", 9.0), ("overlay", 12.0)))
    images, texts, _ = _rendered(plan(change(demo("turf-knife"), "ornaments", worn)), "A4")
    for word in ("cut", "glue", "crease", "another piece lies here"):
        assert word in texts[0], word
    assert "skive" not in texts[0], "only what is on the page"
    assert not {m for m, look in PRINTS.items() if not look.dash_mm} - {"cut", "hole", "mark"}
    y = round((297 - pdf.BORDER_MM - 3) * PX_MM)
    whole = (
        images[0][y - 3 : y + 4, round((pdf.BORDER_MM + 1) * PX_MM) : round((pdf.BORDER_MM + 99) * PX_MM)] < 128
    ).any(axis=0)
    assert whole.all(), "the length to check is drawn whole"


@pytest.mark.parametrize("sheet", ["A4", "Letter"])
def test_a_key_of_every_line_stays_on_the_page(qapp: object, sheet: str) -> None:
    planned = plan(demo("turf-knife"))
    piece = planned.draft.piece("front")
    drawn = ((piece, tuple(Mark(meaning, piece.outline, True) for meaning in PRINTS)),)
    document = pypdfium2.PdfDocument(pdf.render(planned, sheet, drawn))  # type: ignore[arg-type]
    text = document[0].get_textpage()
    right = max(box[2] for k in range(text.count_rects()) if (box := text.get_rect(k)))
    assert right / 72 * 25.4 < pdf.SHEETS_MM[sheet][0] - pdf.BORDER_MM + 0.5
    assert all(words(look.key) in text.get_text_range() for look in PRINTS.values())


def test_wood_is_not_printed_as_leather(qapp: object) -> None:
    planned = plan(demo("whetstone-case"))
    texts = _rendered(planned, "A4")[1]
    for piece in planned.draft.pieces:
        (page,) = {t for t in texts if f": {words(piece.title)} ·" in t and "page 1 of" in t}
        assert words(said("{s} {t}", s=piece.stock.title, t=Q("leather", piece.thickness_mm))) in page
        assert ("side up" in page) is ("way of the leather" in page) is (piece.stock.sort == "leather")
