"""Values as dimensions of the drawing, choices as words of a sentence, parts that are not there."""

from itertools import combinations

import numpy as np
import pytest
import shapely
from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desk.conftest import Desk
from tests.jobs import demo, words
from vow_line.core.draft.kinds.two_part_sheath import TwoPartSheath
from vow_line.core.job import Job, change, mend
from vow_line.core.plan import plan
from vow_line.core.quantity import write
from vow_line.core.reckoning import length
from vow_line.core.steps import ornament
from vow_line.desk.board.dimensions import Value, lay_out

KINDS = [
    "laying-knife",
    "grafting-knife",
    "billhook-cover",
    "secateurs-holster",
    "whetstone-case",
    "slasher-grip",
    "key-fob",
]
SIZES = [(1024, 700), (1280, 800), (1920, 1080)]


def _at_draft(desk: Desk, job: str, size: tuple[int, int] = (1280, 800)) -> object:
    desk.window.window_.resize(*size)
    desk.open(job)
    desk.station("draft")
    QApplication.processEvents()
    return desk.window.pages.station.board


@pytest.mark.parametrize("job", KINDS)
def test_at_rest_every_value_stands_on_the_drawing(desk: Desk, job: str) -> None:
    board = _at_draft(desk, job)
    assert not board._folded
    assert board.more.isHidden()
    assert {p for p, f in board.fields.items() if f.isVisible()} == {
        c.path for c in board.scene.callouts if not c.choices and not c.absent
    }


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("job", KINDS)
def test_dimensions_cross_nothing_and_cover_nothing(desk: Desk, job: str, size: tuple[int, int]) -> None:
    """By geometry: lines against lines, against words and values, words against each other and the section."""
    board = _at_draft(desk, job, size)
    ties = [shapely.MultiLineString(tie.ways) for tie in board.ties if tie.ways]
    assert len(ties) >= min(5 if size[0] > 1024 else 2, len(board._tied) - 2)
    for one, other in combinations(ties, 2):
        assert not one.crosses(other), (one.wkt, other.wkt)
    boxes = [(p.value.id, shapely.box(*p.box).buffer(-1.5)) for p in board._tied]
    boxes += [(p, shapely.box(*b.geometry().adjusted(3, 3, -3, -3).getCoords())) for p, b in board._absent.items()]
    for (a, one), (b, other) in combinations(boxes, 2):
        assert not one.intersects(other), (a, b)
    room = shapely.box(0, 0, board.width(), board.height())
    corner = shapely.box(*board.corner.geometry().getCoords()) if board.scene.inset else shapely.Polygon()
    for placed, (id, box) in zip(board._tied, boxes, strict=False):
        assert room.contains(box), id
        assert not box.intersects(corner), id
        for tie, other in zip(ties, [p for p in board._tied if p.lines()[0]], strict=True):
            assert other is placed or not tie.intersects(box), (id, other.value.id)


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("fringed", [False, True])
@pytest.mark.parametrize("job", ["gaiter", "waistcoat", "secateurs-holster"])
def test_values_in_the_columns_stand_beside_the_drawing(
    desk: Desk, job: str, fringed: bool, size: tuple[int, int]
) -> None:
    """However many they are, and whether each has a line or two: no box of one touches that of what is drawn."""
    desk.window.window_.resize(*size)
    desk.open(job)
    desk.station("draft")
    QApplication.processEvents()
    board = desk.window.pages.station.board
    if fringed:
        desk.window.session.do("fringe", lambda j: ornament(j, kind="fringe", piece=plan(j).draft.shown[0]))
        QApplication.processEvents()
    drawn = shapely.box(*board.transform().mapRect(board._held).getCoords()).buffer(-2.0)
    beside = [p for p in board._tied if not p.lying and p.how != "within"]
    assert len(beside) >= 2
    for placed in beside:
        assert not shapely.box(*placed.box).intersects(drawn), (placed.value.id, placed.how)


@pytest.mark.parametrize("job", KINDS)
def test_a_small_window_keeps_what_matters_and_unfolds_the_rest(desk: Desk, job: str) -> None:
    board = _at_draft(desk, job, (1024, 700))
    shown = [p for p, f in board.fields.items() if f.isVisible()]
    assert len(shown) >= min(8, len(board.fields))
    if not board._folded:
        return
    assert board.more.text() == f"and {len(board._folded)} more"
    board.more.setFocus(Qt.FocusReason.TabFocusReason)
    QApplication.processEvents()
    for path in board._folded:
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
        assert board.at_hand == path
        assert board.fields[path].isVisible()
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
    board.fields[shown[0]].setFocus()
    assert not board.fields[board._folded[0]].isVisible()


def _worn(name: str, side: str) -> Job:
    job = demo("laying-knife" if name == "two-part" else name)
    job = Job(name="any", thing=job.thing, piece=job.piece, leather=job.leather)  # not vowed
    job = change(job, "piece", TwoPartSheath(mouth="sloped", toe_guard_mm=20.0)) if name == "two-part" else job
    return change(job, "piece.worn", side) if hasattr(job.piece, "worn") else job


@pytest.mark.parametrize("side", ["right", "left"])
@pytest.mark.parametrize("name", [*KINDS, "two-part"])
def test_a_dimension_measures_what_it_says_where_it_is(name: str, side: str) -> None:
    """The way between its ends is the value, and that of a margin ends on the cut: on either side worn."""
    job = _worn(name, side)
    draft = plan(job).draft
    found = 0
    for callout in draft.callouts:
        if callout.to is None or callout.absent:
            continue
        found += 1
        way = float(np.hypot(*np.subtract(callout.to, callout.at)))
        assert way == pytest.approx(callout.value, rel=0.12, abs=0.4), callout.path
        end = {"piece.margin_mm": callout.to, "piece.toe_guard_mm": callout.at}.get(callout.path)
        if end is not None:
            piece = draft.piece(callout.on or draft.shown[0])
            assert shapely.LinearRing(piece.outline).distance(shapely.Point(end)) < 0.4, callout.path
    assert found >= 1


def test_the_sentence_is_read_as_it_stands_and_a_word_of_it_changed_by_arrows(desk: Desk) -> None:
    board = _at_draft(desk, "laying-knife")
    assert board.spoken == (
        "A fitted pocket with one welt, the mouth sloped; worn on the right from a loop, the leather formed dry."
    )
    board._combos["piece.mouth"].setFocus()
    desk.key(Qt.Key.Key_Down)
    assert desk.window.session.job.piece.mouth == "scooped"
    assert "the mouth scooped;" in board.spoken
    words = {box.toRect().top() for box, _ in board._said_words}
    for combo in (c for p, c in board._combos.items()):
        assert any(abs(combo.y() - top) < 6 for top in words), "the choices stand in the line of the words"
    for (one, _), (other, _) in combinations(board._said_words, 2):
        assert not one.adjusted(2, 2, -2, -2).intersects(other)


@pytest.mark.parametrize("size", SIZES[:2])
@pytest.mark.parametrize("job", ["laying-knife", "slasher-grip", "whetstone-case"])
def test_no_word_of_the_sentence_lies_on_another(desk: Desk, job: str, size: tuple[int, int]) -> None:
    board = _at_draft(desk, job, size)
    for combo in board._combos.values():
        own = combo.geometry().adjusted(4, 4, -4, -4)
        assert board.rect().contains(own)
        for box, shown in board._said_words:
            assert not own.intersects(QRect(box.toRect().adjusted(1, 4, -4, -4))), (combo.currentText(), shown)


def test_what_is_not_there_is_no_zero_and_is_put_on_and_taken_off_by_a_word(desk: Desk) -> None:
    board = _at_draft(desk, "laying-knife")
    session = desk.window.session
    assert set(board._absent) == {"piece.strap_mm", "piece.toe_guard_mm", "piece.drain_mm"}
    assert not set(board._absent) & set(board.fields)
    QTest.mouseClick(board._absent["piece.strap_mm"], Qt.MouseButton.LeftButton)
    assert session.job.piece.strap_mm == 20
    assert board.at_hand == "piece.strap_mm"
    assert board.facts.text() == "a strap: 0, or a press here, takes it off"
    assert "piece.strap_mm" not in board._absent
    assert "strap" in {p.id for p in plan(session.job).draft.pieces}
    QTest.mouseClick(board.facts, Qt.MouseButton.LeftButton)
    assert session.job.piece.strap_mm == 0
    assert "piece.strap_mm" not in board.fields
    desk.key(Qt.Key.Key_Space)  # the word that put it on has the hand again
    assert session.job.piece.strap_mm == 20
    desk.type("piece.strap_mm", "0")
    assert "piece.strap_mm" in board._absent


def test_a_part_half_typed_away_is_taken_off_where_one_leaves(desk: Desk) -> None:
    board = _at_draft(desk, "laying-knife")
    QTest.mouseClick(board._absent["piece.strap_mm"], Qt.MouseButton.LeftButton)
    field = board.fields["piece.strap_mm"]
    field.selectAll()
    QTest.keyClicks(field, "0")
    assert board.untaken() == ""
    assert desk.window.session.job.piece.strap_mm == 0
    assert "piece.strap_mm" in board._absent


def test_lengths_that_follow_each_other_are_one_chain(desk: Desk) -> None:
    board = _at_draft(desk, "laying-knife")
    chain = next(p for p in board._tied if p.how == "chain")
    assert len(chain.value.points) == 3
    lines, _ = chain.lines()
    ladder, fans = lines[0], lines[1:]
    assert len(fans) == 3
    assert [fan[-1] for fan in fans] == sorted(chain.value.points)
    ys = sorted(fan[0][1] for fan in fans)
    assert np.diff(ys) == pytest.approx([24.0, 24.0])
    assert ladder[0][1] == ys[0]


def test_values_without_room_are_left_out_last_first() -> None:
    values = [Value(str(k), "left", (80.0, 44.0), ((300.0, 20.0 * k),)) for k in range(12)]
    placed, left_out = lay_out(values, (0, 0, 900, 240), (250, 10, 600, 230), [], np.empty((0, 2)))
    assert [p.value.id for p in placed] == [str(k) for k in range(10)], "five on their own side, five on the other"
    assert [p.value.side for p in placed] == ["left"] * 5 + ["right"] * 5
    assert [v.id for v in left_out] == ["10", "11"]


@pytest.mark.parametrize("seed", range(20))
def test_whatever_is_measured_nothing_crosses(seed: int) -> None:
    """Random places and lengths about a random drawing."""
    rng = np.random.default_rng(seed)
    values = []
    for k in range(14):
        a = rng.uniform([260, 60], [640, 540])
        b = a + (rng.uniform(-1, 1, 2) * [150, 150] if k % 2 else [0.0, rng.uniform(5, 160)])
        points = (tuple(a),) if k % 3 == 0 else (tuple(a), tuple(b))
        values.append(Value(str(k), ("left", "right")[k % 2], (float(rng.uniform(50, 130)), 44.0), points, k % 4 == 1))
    inked = rng.uniform([250, 50], [650, 550], (40, 2))
    placed, left_out = lay_out(values, (10, 10, 900, 600), (250, 50, 650, 550), [(660, 420, 890, 600)], inked)
    assert len(placed) + len(left_out) == 14
    ties = [shapely.MultiLineString(p.lines()[0]) for p in placed]
    for (p, one), (q, other) in combinations(list(zip(placed, ties, strict=True)), 2):
        assert one.is_empty or other.is_empty or not one.crosses(other), (p, q)
        assert not shapely.box(*p.box).buffer(-0.5).intersects(shapely.box(*q.box).buffer(-0.5)), (p, q)
    assert sum(p.how != "untied" for p in placed) >= 8


@pytest.mark.parametrize("job", ["laying-knife", "billhook-cover", "slasher-grip", "secateurs-holster", "key-fob"])
def test_at_stitch_values_are_tied_to_the_strip_and_cross_nothing(desk: Desk, job: str) -> None:
    desk.open(job)
    desk.station("stitch")
    QApplication.processEvents()
    board = desk.window.pages.station.board
    assert not board._folded
    ties = [shapely.MultiLineString(tie.ways) for tie in board.ties if tie.ways]
    assert len(ties) >= 2
    assert not any(one.crosses(other) for one, other in combinations(ties, 2))
    seam, units = plan(desk.window.session.job).stitching.seams[-1], board.units
    assert units.length == "mm"
    pitch = next(c for c in board.scene.callouts if c.path == "stitch.pitch_mm")
    assert pitch.to[0] - pitch.at[0] == pytest.approx(seam.pitch_mm, abs=0.5)


@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (1920, 1080)])
def test_what_is_seldom_changed_waits_behind_one_word(desk: Desk, size: tuple[int, int]) -> None:
    desk.window.window_.resize(*size)
    desk.open("laying-knife")
    desk.station("thread")
    QTest.qWait(30)
    board = desk.window.pages.station.board
    field = board.fields["thread.reach_mm"]
    assert not field.isVisible()
    assert board.fields["thread.needle_mm"].isVisible()
    board.more.setFocus()
    QApplication.processEvents()
    assert field.isVisible()
    desk.type("thread.reach_mm", "1.5 m")
    assert desk.window.session.job.thread.reach_mm == 1500
    desk.station("stitch")
    desk.station("thread")
    assert board.show_field("thread.compression")
    assert board.fields["thread.compression"].isVisible()


@pytest.mark.parametrize("job", ["laying-knife", "billhook-cover", "secateurs-holster", "whetstone-case"])
def test_drawn_out_the_thing_stays_in_sight_and_the_section_follows_where_it_is_tightest(desk: Desk, job: str) -> None:
    board = _at_draft(desk, job)
    page, draft = desk.window.pages.station, desk.window.session.plan.draft
    assert draft is not None
    assert draft.way_out is not None
    scales = set()
    for share in (0.2, 0.5, 1.0):
        page.slider.setValue(round(page.slider.maximum() * share))
        QApplication.processEvents()
        thing = next(m.line for m in board.scene.marks if m.id == "thing")
        to_px = board.transform()
        for u, v in thing[::4]:
            at = to_px.map(float(u), float(v))
            assert board.rect().contains(round(at[0]), round(at[1])), (job, share)
        scales.add(round(board.scale, 6))
        near = draft.way_out.nearest(float(page.slider.value()))
        if near is not None:
            mark = next(m for m in board.scene.marks if m.id == "touch")
            assert mark.line[0] == pytest.approx(near.at)
            assert mark.meaning == ("alarm" if near.gap_mm < 0 else "done")
            assert desk.slip()["Nearest, drawn out"] == write(length(near.gap_mm), board.units), (
                "what is drawn is in the sums"
            )
            if job == "laying-knife":
                assert board.scene.inset.title == draft.section(near.at[1]).title
    assert len(scales) == 1, "the drawing stands still while the thing moves"
    page.slider.setValue(0)
    QApplication.processEvents()
    assert not [m for m in board.scene.marks if m.id == "touch"]
    assert "Nearest, drawn out" not in desk.slip()


def test_an_ornament_whose_piece_is_gone_shows_no_values_until_it_is_put_on_another(desk: Desk) -> None:
    board = _at_draft(desk, "thorn-cuff")
    desk.window.session.do("fringe", lambda j: ornament(j, kind="fringe", piece="wrap"))
    QApplication.processEvents()
    there = {p for p in board.fields if p.startswith("ornaments.")}
    assert "ornaments.0.deep_mm" in there
    desk.window.session.do("two panels", lambda j: change(j, "piece.panels", 2))
    QApplication.processEvents()
    assert not [p for p in board.fields if p.startswith("ornaments.")]
    gone = next(f for f in desk.window.session.plan.findings if f.code == "ornament-nowhere")
    assert "wrap" not in words(gone.says), "it is called by no id"
    desk.window.session.do("mend", lambda j: mend(j, gone.mend))
    QApplication.processEvents()
    assert {p for p in board.fields if p.startswith("ornaments.")} == there


def test_a_limit_to_stretch_is_put_on_typed_in_percent_and_followed_by_what_is_worn(desk: Desk) -> None:
    board = _at_draft(desk, "thorn-cuff")
    session = desk.window.session
    QTest.mouseClick(board._absent["piece.most_stretch"], Qt.MouseButton.LeftButton)
    assert session.job.piece.most_stretch == 0.01
    assert board.fields["piece.most_stretch"].text() == "1 %"
    wide = float(np.ptp(session.plan.draft.piece("wrap").outline[:, 0]))
    desk.type("piece.most_stretch", "0,5")
    assert session.job.piece.most_stretch == 0.005
    assert float(np.ptp(session.plan.draft.piece("wrap").outline[:, 0])) > wide
    desk.type("piece.most_stretch", "0")
    assert "piece.most_stretch" in board._absent


def test_what_is_worn_is_drawn_when_the_piece_has_been(desk: Desk) -> None:
    board = _at_draft(desk, "thorn-cuff")
    worn, cut = board.scene.worn, board.scene.marks[0].line
    desk.window.session.do("looser", lambda j: change(j, "piece.ease_mm", 30.0))
    assert board.scene.worn is worn
    assert np.ptp(board.scene.marks[0].line[:, 0]) > np.ptp(cut[:, 0]) + 25
    QTest.qWait(50)
    after = board.scene.worn
    assert after.turning.half_mm > worn.turning.half_mm + 2
    assert after.marks[0].line is not worn.marks[0].line
    meanings = {m.meaning for m in after.strains}
    assert meanings == {"stretch", "shrink"}
    assert {*after.strains} <= {*board.scene.marks}
    drawn = sum(len(m.line) for m in after.strains)
    desk.window.session.do("tight", lambda j: change(j, "piece.most_stretch", 0.005))
    QTest.qWait(50)
    assert sum(len(m.line) for m in board.scene.worn.strains if m.meaning == "stretch") < drawn


@pytest.mark.parametrize(
    ("job", "station", "place", "to"),
    [
        ("laying-knife", "measure", "thing.stations.2.width.first", 39.0),
        ("laying-knife", "thread", "thread.needle_mm", 58.0),
        ("thorn-cuff", "draft", "piece.closed.gap_low_mm", 21.0),
        ("waistcoat", "draft", "piece.meets.0.under_mm", 27.0),
    ],
)
def test_an_edit_draws_the_piece_first_and_then_settles_what_stands_about_it(
    desk: Desk, job: str, station: str, place: str, to: float
) -> None:
    board = _at_draft(desk, job)
    desk.station(station)
    QTest.qWait(50)

    def tied() -> bool:
        """Whether every line from a value ends where what it measures is now."""
        if not board.scene.measured:
            ends = {c.path: board.transform().map(QPointF(*c.at)) for c in board.scene.callouts}
            return bool(board._leaders) and all(at == ends[path] for _, at, path, _ in board._leaders)
        ends = {id: points for id, (_, points) in board._links(board.transform()).items()}
        return bool(board._tied) and all(p.value.points == ends[p.value.id] for p in board._tied)

    assert tied()
    lines, words, leaders, ties = board.scene.marks, board.words, board._leaders, board.ties
    desk.window.session.do("edit", lambda j: change(j, place, to))
    assert [ready.mark for ready in board.paintable] == list(board.scene.marks)
    assert {*board.scene.marks} - {*lines}
    assert board.words is words
    assert board.ties is ties
    assert board._leaders is leaders
    assert board.fields[place].text() == write(length(to), board.units)
    QTest.qWait(50)
    assert tied()
    assert [(box.getRect(), label) for box, label, _ in board.words] == [
        (box.getRect(), label) for box, label, _ in board._worded()
    ]
    assert {label.says for _, label, _ in board.words} <= {label.says for label in board.scene.labels}


def test_strain_is_hatched_on_every_panel_where_that_lies(desk: Desk) -> None:
    board = _at_draft(desk, "gaiter")
    desk.window.session.do("panels", lambda j: change(j, "piece.panels", 2))
    QTest.qWait(50)
    cuts = {m.id: shapely.Polygon(m.line) for m in board.scene.marks if m.meaning == "cut" and len(m.line) > 9}
    panels = [cuts["wrap-1"], cuts["wrap-2"]]
    assert panels[0].disjoint(panels[1])
    strokes = np.concatenate([m.line for m in board.scene.worn.strains])
    on = [shapely.contains_xy(panel, *strokes.T).sum() for panel in panels]
    assert sum(on) == len(strokes)
    assert min(on) > 0.2 * len(strokes)


def test_a_value_that_comes_stands_in_its_place_at_once(desk: Desk) -> None:
    board = _at_draft(desk, "thorn-cuff")
    words = board.words
    desk.window.session.do("limit", lambda j: change(j, "piece.most_stretch", 0.01))
    assert board.words is not words
    field = QRectF(board.fields["piece.most_stretch"].geometry())
    assert board.rect().contains(field.toAlignedRect())
    others = [f for p, f in board.fields.items() if p != "piece.most_stretch" and f.isVisible()]
    assert not any(field.intersects(QRectF(f.geometry())) for f in others)


def test_words_on_a_drawing_are_in_the_units_of_the_job(desk: Desk) -> None:
    board = _at_draft(desk, "laying-knife")
    station = desk.window.pages.station
    station.slider.setValue(60)
    assert any(" mm " in words.text() for _, _, words in board.words)
    desk.window.session.do("inches", lambda j: change(j, "unit", "in"))
    QTest.qWait(50)
    said = [words.text() for _, _, words in board.words]
    assert any(" in " in text for text in said)
    assert not any(" mm" in text for text in said)


@pytest.mark.parametrize(
    ("job", "choice", "edited"),
    [("thorn-cuff", "piece.closing", "piece.ease_mm"), ("waistcoat", "piece.meets.1.how", "piece.meets.0.under_mm")],
)
def test_a_choice_that_was_not_taken_shows_what_stands(desk: Desk, job: str, choice: str, edited: str) -> None:
    board = _at_draft(desk, job)
    combo = board._combos[choice]
    stands = combo.currentText()
    for more in (11.0, 12.0):
        combo.setCurrentIndex(3)
        assert combo.currentText() != stands
        desk.window.session.do("an edit", lambda j, mm=more: change(j, edited, mm))
        assert combo.currentText() == stands


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("job", ["laying-knife", "thorn-cuff", "gaiter", "waistcoat"])
def test_what_is_said_of_a_section_has_room_in_its_corner(desk: Desk, job: str, size: tuple[int, int]) -> None:
    board = _at_draft(desk, job, size)
    QTest.qWait(30)
    for _ in range(2):
        if (inset := board.inset) is not None:
            for text in (inset.title, inset.says):
                words, _ = board.corner._fitted(text)
                assert words.size().width() <= board.corner.width() - 16, words.text()
        desk.window.session.do("inches", lambda j: change(j, "unit", "in"))


def test_a_piece_too_low_for_a_name_over_it_is_named_at_its_end(desk: Desk) -> None:
    board = _at_draft(desk, "gaiter", (1024, 700))
    wrap = board.transform().mapRect(QRectF(*_bounds(next(m for m in board.scene.marks if m.id == "wrap"))))
    named = {words.text(): box for box, _, words in board.words}
    for name in ("billet, 8 of it", "buckle tab, 8 of it"):
        assert not named[name].adjusted(1, 5, -1, -5).intersects(wrap.adjusted(30, 0, -30, 0)), (
            "not on what lies over it"
        )


def _bounds(mark: object) -> tuple[float, float, float, float]:
    low, high = mark.line.min(axis=0), mark.line.max(axis=0)
    return (*low.tolist(), *(high - low).tolist())


@pytest.mark.parametrize("job", ["waistcoat", "bramble-glove", "hedging-mitten"])
def test_words_beside_panels_from_above_lie_within_their_corner(desk: Desk, job: str) -> None:
    board = _at_draft(desk, job)
    QTest.qWait(30)
    assert board.corner._words
    for _ in range(2):
        for box, _, text in board.corner._words:
            assert QRectF(board.corner.rect()).adjusted(1, 0, -1, 0).contains(box), text.text()
        desk.window.session.do("inches", lambda j: change(j, "unit", "in"))
        QTest.qWait(30)
