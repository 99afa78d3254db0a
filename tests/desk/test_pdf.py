"""The printed pattern measured on the rendered page."""

import itertools
import re
from typing import Any

import numpy as np
import pypdfium2
import pytest
import shapely
import shapely.affinity
from PySide6.QtGui import QImage, QPainter
from scipy.optimize import Bounds, LinearConstraint, milp

from tests.jobs import demo, words
from vow_line.core.draft import Piece
from vow_line.core.draft.ornament import Ornament
from vow_line.core.drawing import Mark
from vow_line.core.job import change
from vow_line.core.made import markings
from vow_line.core.meanings import PRINTS
from vow_line.core.pages import GAP_MM, OVERLAP_MM, OnPage, pages_of
from vow_line.core.plan import Plan, plan
from vow_line.core.quantity import Q
from vow_line.core.texts import said
from vow_line.files import pdf
from vow_line.files.print_marks import HEAD_MM, label
from vow_line.resources.demo import demo_jobs

DOTS = 300
PX_MM = DOTS / 25.4
LEAST_JOIN_PT = 7.0


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
    assert len(images) == 1, "three pieces on one page"
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
        assert "best way" in text


def _px(on: OnPage, points: np.ndarray) -> np.ndarray:
    """Points of a piece as rows and columns of the page's picture come from them."""
    return (on.onto(points) + [pdf.BORDER_MM, pdf.BORDER_MM + HEAD_MM]) * PX_MM


@pytest.mark.parametrize("name", ["grafting-knife", "billhook-cover", "turf-knife"])
def test_every_piece_is_printed_at_its_size_where_it_is_said_to_lie(qapp: object, name: str) -> None:
    """The page under each outline is dark all along it, and a millimetre to either side it is not."""
    planned = plan(demo(name))
    images = _pages(name, "A4")[0]
    pages = pages_of(planned.draft.pieces, pdf.room_of(pdf.SHEETS_MM["A4"]))
    assert len(pages) == len(images)
    assert sorted(on.piece.id for page in pages for on in page.pieces) == sorted(p.id for p in planned.draft.pieces)
    for page, image in zip(pages, images, strict=True):
        for on in page.pieces:
            ring = shapely.LinearRing(on.piece.outline)
            at = shapely.get_coordinates(ring.interpolate(np.arange(0, ring.length, 1.0)))
            dark = [(image[y - 2 : y + 3, x - 2 : x + 3] < 128).any() for x, y in np.rint(_px(on, at)).astype(int)]
            assert np.mean(dark) > 0.995, on.piece.id
            inside = shapely.get_coordinates(shapely.Polygon(on.piece.outline).buffer(-1.0).exterior)
            beside = [
                (image[y - 2 : y + 3, x - 2 : x + 3] < 128).any() for x, y in np.rint(_px(on, inside)).astype(int)
            ]
            assert np.mean(beside) < 0.5, on.piece.id


@pytest.mark.parametrize("name", ["laying-knife", "billhook-cover", "secateurs-holster", "whetstone-case"])
def test_words_on_a_page_cover_no_hole(qapp: object, name: str) -> None:
    """Round every hole the page is as dark as round every other, whatever is written there."""
    planned = plan(demo(name))
    images = _pages(name, "A4")[0]
    pages = pages_of(planned.draft.pieces, pdf.room_of(pdf.SHEETS_MM["A4"]))
    for page, image in zip(pages, images, strict=True):
        for on in page.pieces:
            for seam in planned.stitching.seams:
                for k, placed in enumerate(seam.line.placed):
                    if placed.piece == on.piece.id and len(seam.there(k)):
                        px = np.rint(_px(on, seam.on(k)[seam.there(k)])).astype(int)
                        ink = np.array([(image[y - 5 : y + 6, x - 5 : x + 6] < 128).mean() for x, y in px])
                        assert ink.max() < 2.2 * np.median(ink) + 0.05, (on.piece.id, seam.id)
                        assert ink.min() > 0.3 * np.median(ink), (on.piece.id, seam.id)


def test_pages_of_a_split_piece_cover_it_and_overlap() -> None:
    piece = plan(demo("laying-knife")).draft.pieces[0]  # type: ignore[union-attr]
    room = (90.0, 100.0)
    pages = pages_of((piece,), room)
    assert 1 < len(pages) <= pages[0].columns * pages[0].rows
    covered = shapely.union_all(
        [shapely.box(0, 0, *room) if k == 0 else shapely.affinity.translate(shapely.box(0, 0, *room), *(
            np.array(pages[0].pieces[0].shift) - page.pieces[0].shift)) for k, page in enumerate(pages)]
    )  # fmt: skip
    assert covered.buffer(0.01).contains(shapely.Polygon(pages[0].pieces[0].onto(piece.outline)))
    steps = {round(pages[0].pieces[0].shift[0] - p.pieces[0].shift[0], 6) for p in pages}
    assert sorted(steps) == pytest.approx([k * (room[0] - OVERLAP_MM) for k in range(pages[0].columns)])
    turns = {p.pieces[0].turn_rad for p in pages}
    assert len(turns) == 1


@pytest.mark.parametrize("kind", ["border", "stamped-area", "overlay"])
def test_an_ornament_is_on_the_printed_page(qapp: object, kind: str) -> None:
    """Half of its ring and more is dark where nothing was without it (a dashed line is half dark)."""
    plain = demo("turf-knife")
    worn = change(plain, "ornaments", (Ornament(kind=kind, piece="front", in_mm=9.0),))
    planned = plan(plain)
    piece = planned.draft.piece("front")
    pages = pages_of(planned.draft.pieces, pdf.room_of(pdf.SHEETS_MM["A4"]))
    number, on = next((k, on) for k, page in enumerate(pages) for on in page.pieces if on.piece.id == "front")
    ring = shapely.Polygon(piece.outline).buffer(-9.0).exterior
    at = shapely.get_coordinates(ring.interpolate(np.arange(0, ring.length, 0.5)))
    dark = []
    for job in (plain, worn):
        image = _rendered(plan(job), "A4")[0][number]
        rows = np.round(_px(on, at)).astype(int)
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
    whole = re.sub(r"\s+", " ", " ".join(texts))
    for piece in planned.draft.pieces:
        stock = words(said("{s} {t}", s=piece.stock.title, t=Q("leather", piece.thickness_mm)))
        assert words(piece.title) in whole
        assert stock in whole
    core = planned.draft.piece("core-front")
    assert "side up" not in " ".join(label(planned, core))
    assert "side up" in " ".join(label(planned, planned.draft.piece("cover")))


def _fits(piece: Piece, room: tuple[float, float]) -> bool:
    """Whether a piece fits on a page, turned as it likes."""
    ring = piece.outline - piece.outline.mean(axis=0)
    for turn in np.radians(np.arange(0, 180, 1.0)):
        c, s = np.cos(turn), np.sin(turn)
        if (np.ptp(ring @ np.array([[c, s], [-s, c]]), axis=0) <= np.array(room) - 2.0).all():
            return True
    return False


def _parts(piece: Piece, room: tuple[float, float]) -> int:
    """How many pages a piece is split over, lying straight on them, the better of both ways."""
    wide, high = np.ptp(piece.outline, axis=0)
    sheet = np.array(room) - 2 * GAP_MM
    return min(int(np.prod(np.ceil(np.array(size) / sheet))) for size in ((wide, high), (high, wide)))


def _fewest(pieces: list[Piece], room: tuple[float, float]) -> int:
    """The fewest pages for the smallest boxes of the pieces, a quarter turned or not, by integer programming: every box on one
    page, of any two on one page one beside or below the other.
    """
    boxes = []
    for piece in pieces:
        rect = shapely.get_coordinates(shapely.Polygon(piece.outline).minimum_rotated_rectangle)
        a, b = np.hypot(*np.diff(rect[:3], axis=0).T)
        boxes.append((float(a) + GAP_MM, float(b) + GAP_MM))
    w, h = room[0] - 2 + GAP_MM, room[1] - 2 + GAP_MM
    n, big = len(boxes), 2000.0
    for pages in range(1, n + 1):
        # x, y, turned of each; page of each; left, right, below, above of each pair
        pairs = list(itertools.combinations(range(n), 2))
        size = 3 * n + n * pages + 4 * len(pairs)
        rows: list[np.ndarray] = []
        low: list[float] = []
        high: list[float] = []

        def add(
            terms: dict[int, float], least: float, most: float, kept: tuple[Any, ...] = (size, rows, low, high)
        ) -> None:
            row = np.zeros(kept[0])
            for k, v in terms.items():
                row[k] = v
            for where, value in zip(kept[1:], (row, least, most), strict=True):
                where.append(value)

        for i, (a, b) in enumerate(boxes):
            add({3 * i: 1, 3 * i + 2: b - a}, 0, w - a)
            add({3 * i + 1: 1, 3 * i + 2: a - b}, 0, h - b)
            add({3 * n + i * pages + p: 1 for p in range(pages)}, 1, 1)
        for q, (i, j) in enumerate(pairs):
            side = 3 * n + n * pages + 4 * q
            for p in range(pages):
                add({side: 1, side + 1: 1, side + 2: 1, side + 3: 1, 3 * n + i * pages + p: -1, 3 * n + j * pages + p: -1},
                    -1, 4)  # fmt: skip
            for k, (s, t, axis) in enumerate(((i, j, 0), (j, i, 0), (i, j, 1), (j, i, 1))):
                own, other = boxes[s][axis], boxes[s][1 - axis]
                add({3 * s + axis: 1, 3 * s + 2: other - own, 3 * t + axis: -1, side + k: big}, -np.inf, big - own)
        whole = np.ones(size)
        whole[: 3 * n] = [0, 0, 1] * n
        upper = np.concatenate([[w, h, 1] * n, np.ones(size - 3 * n)])
        found = milp(np.zeros(size), constraints=LinearConstraint(np.array(rows), low, high), integrality=whole,
                     bounds=Bounds(0, upper), options={"time_limit": 20})  # fmt: skip
        if found.success:
            return pages
    return n


@pytest.mark.parametrize("sheet", ["A4", "Letter"])
@pytest.mark.parametrize("name", demo_jobs())
def test_no_more_pages_than_an_exhaustive_packing_of_the_boxes(name: str, sheet: str) -> None:
    pieces = list(plan(demo(name)).draft.pieces)
    room = pdf.room_of(pdf.SHEETS_MM[sheet])
    pages = pages_of(pieces, room)
    for page in pages:
        areas = [shapely.Polygon(on.onto(on.piece.outline)) for on in page.pieces]
        assert page.columns * page.rows > 1 or all(
            shapely.box(-0.01, -0.01, room[0] + 0.01, room[1] + 0.01).contains(a) for a in areas
        )
        assert all(one.distance(other) > GAP_MM - 0.01 for one, other in itertools.combinations(areas, 2))
        for on in page.pieces:
            ring, was = shapely.LinearRing(on.onto(on.piece.outline)), shapely.LinearRing(on.piece.outline)
            assert ring.is_ccw == was.is_ccw, "never flipped"
    split = [p for p in pieces if not _fits(p, room)]
    whole = [p for p in pieces if _fits(p, room)]
    parts = sum(_parts(p, room) for p in split)
    if len(whole) <= 6:
        assert len(pages) <= (_fewest(whole, room) if whole else 0) + parts
    assert len(pages) <= {"billhook-cover": 1 if sheet == "A4" else 2}.get(name, len(whole) + parts)


@pytest.mark.parametrize("name", ["laying-knife", "turf-knife", "secateurs-holster"])
def test_partners_letters_and_what_is_up_are_printed_and_the_made_thing_on_the_first_page_alone(
    qapp: object, name: str
) -> None:
    planned = plan(demo(name))
    assert planned.draft is not None
    assert planned.stitching is not None
    _, texts, _ = _rendered(planned, "A4")
    marked = markings(planned.draft.assembly, planned.stitching.seams)
    whole = "\n".join(texts).replace("\r", "").split("\n")
    for letter in "AB":
        meant = sum(letter == k for m in marked.values() for k, _ in m.letters)
        assert 2 <= sum(line.split().count(letter) for line in whole) <= meant
    assert sum("up" in line.split() for line in whole) >= 1
    assert "not to scale" in texts[0]
    assert not any("not to scale" in text for text in texts[1:])
    assert "this side outside" in texts[0]


@pytest.mark.parametrize("name", ["gaiter", "waistcoat"])
def test_a_partners_letter_is_printed_beside_its_seam_and_on_no_page_that_has_not_that(qapp: object, name: str) -> None:
    planned = plan(demo(name))
    assert planned.draft is not None
    assert planned.stitching is not None
    marked = markings(planned.draft.assembly, planned.stitching.seams)
    document = pypdfium2.PdfDocument(pdf.render(planned, "A4"))
    pages = pages_of(planned.draft.pieces, pdf.room_of(pdf.SHEETS_MM["A4"]))
    found: set[tuple[str, str, int]] = set()
    for page, printed in zip(pages, document, strict=True):
        text = printed.get_textpage()
        whole = text.get_text_range()
        alone = [
            (line.start() + one.start(), one.group())
            for line in re.finditer(r"(?m)^[A-Z ]+\r?$", whole)
            for one in re.finditer("[AB]", line.group())
        ]
        for start, written in alone:
            left, bottom, right, top = text.get_charbox(start)
            if top - bottom > LEAST_JOIN_PT:
                continue  # at the join of two pages
            at = np.array([(left + right) / 2, printed.get_height() - (bottom + top) / 2]) / 72 * 25.4
            at -= [pdf.BORDER_MM, pdf.BORDER_MM + HEAD_MM]
            far, place = min(
                (float(np.hypot(*(on.onto(np.array([p]))[0] - at))), (on.piece.id, letter, k))
                for on in page.pieces for k, (letter, p) in enumerate(marked[on.piece.id].letters) if letter == written
            )  # fmt: skip
            assert far < 25, (place, at)
            found.add(place)
    meant = {(id, letter, k) for id, m in marked.items() for k, (letter, _) in enumerate(m.letters) if letter in "AB"}
    assert found == meant


@pytest.mark.parametrize("name", ["waistcoat", "gaiter", "goat-collar"])
def test_a_page_leaves_out_no_mark_that_is_seen_on_it(qapp: object, name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """Against all marks of a piece painted on each of its pages."""
    paper = pdf.paper_of(plan(demo(name)))
    assert any(page.parts > 1 for page in paper.pages)
    only, drawn = pdf._marks, []

    def picture(k: int) -> QImage:
        image = QImage(1240, 1754, QImage.Format.Format_Grayscale8)
        image.fill(255)
        painter = QPainter(image)
        painter.scale(1240 / 210, 1754 / 297)
        pdf.paint_page(painter, paper, k)
        painter.end()
        return image

    def every(painter: QPainter, marks: tuple[Mark, ...], low: object, high: object) -> None:
        drawn.append(len(marks))
        only(painter, marks, np.array([-1e6, -1e6]), np.array([1e6, 1e6]))

    for k in range(len(paper.pages)):
        seen = picture(k)
        with monkeypatch.context() as patched:
            patched.setattr(pdf, "_marks", every)
            assert picture(k) == seen, k
    assert drawn
