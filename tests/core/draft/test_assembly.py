"""Pieces joined by their edges: what an assembly refuses, and what follows from its joins."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import any_job, demo, words
from tests.many import examples
from tests.plates import plate
from vow_line.core.curve import arc_length, frozen
from vow_line.core.draft.assembly import Assembly
from vow_line.core.draft.joins import Fastener, Join, Layer, Lies, Sewing, Shell
from vow_line.core.draft.pieces import Edge, Piece, edged, leather, parted
from vow_line.core.draft.seam_line import laid_on
from vow_line.core.errors import AssemblyError
from vow_line.core.job import Job
from vow_line.core.plan import plan
from vow_line.resources.demo import demo_jobs

SQUARE = ((0.0, 0.0), (40.0, 0.0), (40.0, 60.0), (0.0, 60.0))
SIDES = ("top", "right", "bottom", "left")


def _panel(id: str, free: tuple[str, ...] = ("top",)) -> Piece:
    corners = [*SQUARE, SQUARE[0]]
    outline, edges = edged(*(
        Edge(side, side, frozen([corners[k], corners[k + 1]]), "mouth" if side in free else "")
        for k, side in enumerate(SIDES)
    ))  # fmt: skip
    return Piece(id, id, outline, edges, leather(3.0))


def _bag(*sides: str) -> Assembly:
    """Two panels joined along these sides."""
    free = tuple(s for s in SIDES if s not in sides)
    joins = tuple(
        Join(side, side, "line", (Layer("front", side, "front"), Layer("back", side, "back")),
             Sewing(frozen([[5.0, 5.0], [5.0, 50.0]]), 3.0))
        for side in sides
    )  # fmt: skip
    pieces = _panel("front", free), _panel("back", free)
    return Assembly(pieces, joins, shells=(Shell("bag", "bag", ("front", "back")),))


@pytest.mark.parametrize("name", sorted(demo_jobs()))
def test_the_edges_of_every_piece_tile_its_rings_and_are_joined_or_open(name: str) -> None:
    """By lengths and end points of the edges alone."""
    assembly = plan(demo(name)).draft.assembly
    for piece in assembly.pieces:
        for number, ring in enumerate((piece.outline, *piece.slots)):
            edges = [e for e in piece.edges if e.ring == number]
            around = float(np.hypot(*(ring - np.roll(ring, -1, axis=0)).T).sum())
            assert sum(float(arc_length(e.line)[-1]) for e in edges) == pytest.approx(around, abs=1e-9)
            for one, after in zip(edges, [*edges[1:], edges[0]], strict=True):
                assert np.array_equal(one.line[-1], after.line[0])
        for edge in piece.edges:
            assert bool(edge.open) != ((piece.id, edge.id) in assembly.joined)


def test_what_names_nothing_is_an_error_where_it_is_made() -> None:
    bag = _bag("right", "bottom", "left")
    astray = replace(bag.joins[0], layers=(Layer("front", "right"), Layer("back", "sleeve")))
    with pytest.raises(AssemblyError, match="names back/sleeve, which is not there"):
        replace(bag, joins=(astray, *bag.joins[1:]))
    with pytest.raises(AssemblyError, match="neither joined nor open"):
        replace(bag, joins=bag.joins[1:])
    with pytest.raises(AssemblyError, match="joined twice"):
        replace(bag, joins=(*bag.joins, replace(bag.joins[0], id="again")))
    with pytest.raises(AssemblyError, match="both joined and open"):
        replace(_bag("right"), pieces=(_panel("front", SIDES), _panel("back", SIDES)))
    with pytest.raises(AssemblyError, match="Two pieces have one id"):
        replace(bag, pieces=(*bag.pieces, bag.pieces[0]))
    with pytest.raises(AssemblyError, match="goes through front/hole"):
        replace(bag, fasteners=(Fastener("rivet", "rivet", "rivet", (("front", "hole"),)),))
    with pytest.raises(AssemblyError, match="shell"):
        replace(bag, shells=(Shell("bag", "bag", ("front", "lid")),))
    line = frozen([[0.0, 0.0]])
    with pytest.raises(AssemblyError, match="not there"):
        replace(bag, lies=(Lies("bag", "lid", "half", frozen([0.0]), line, line),))


def test_a_vertex_moved_on_the_outline_alone_no_longer_tiles() -> None:
    piece = _panel("front", SIDES)
    outline = piece.outline.copy()
    outline[1] += 0.01
    with pytest.raises(AssemblyError, match="do not tile"):
        Assembly((replace(piece, outline=frozen(outline), edges=piece.edges),))
    with pytest.raises(AssemblyError, match="do not meet"):
        edged(Edge("a", "a", frozen([[0, 0], [9, 0]]), "free"), Edge("b", "b", frozen([[9.5, 0], [0, 9]]), "free"))


@given(st.floats(-3, 3), st.floats(-90, 90), st.floats(-90, 90), st.booleans(), st.floats(0, 20))
def test_an_edge_is_laid_on_its_partner_by_the_motion_it_was_moved_by(
    turn: float, x: float, y: float, flipped: bool, from_mm: float
) -> None:
    s = np.linspace(0, 60, 90)
    first = np.column_stack([s, 8 * np.sin(s / 11)])
    c, d = np.cos(turn), np.sin(turn)
    motion = np.array([[c, d], [-d, c]])
    if flipped:
        motion = np.array([[-1.0, 0.0], [0.0, 1.0]]) @ motion
    long = arc_length(first)
    part = first if flipped else first[long >= from_mm]
    moved = part @ motion + [x, y]
    begins = 0.0 if flipped else float(long[long >= from_mm][0])
    found, shift = laid_on(first, moved[::-1] if flipped else moved, begins, flipped=flipped)
    assert np.abs(first @ found + shift - (first @ motion + [x, y])).max() < 2e-3


def test_a_bag_is_sewn_in_the_order_given_and_its_edges_with_it() -> None:
    bag = _bag("right", "bottom", "left")
    assert bag.order == ("right", "bottom", "left")
    assert [s.id for s in bag.seams] == ["right", "bottom", "left"]
    front = bag.piece("front")
    assert bag.finish(front, front.edge("top")).when == "early"
    assert bag.finish(front, front.edge("left")) == bag.finish(bag.piece("back"), bag.piece("back").edge("left"))
    assert (bag.finish(front, front.edge("left")).join, bag.finish(front, front.edge("left")).plies) == ("left", 2)


def test_what_sits_on_a_pocket_comes_before_it_is_closed_and_a_core_before_its_cover() -> None:
    case = plan(demo("whetstone-case")).draft.assembly
    at = {id: k for k, id in enumerate(case.order)}
    assert max(at["lining-front"], at["lining-back"]) < at["core"] < at["back-seam"] < at["cap"]
    holster = plan(demo("secateurs-holster")).draft.assembly
    assert holster.order.index("belt-loop") < holster.order.index("round-seam")
    cover = plan(demo("billhook-cover")).draft.assembly
    assert all(cover.order.index(f.id) < cover.order.index("edge-seam") for f in cover.fasteners)


def test_joins_that_wait_for_each_other_are_named() -> None:
    bag = _bag("right", "left")
    around = Shell("outer", "outer", ("front", "back"), "bag")
    with pytest.raises(AssemblyError, match="wait for each other: right, left"):
        _ = replace(bag, shells=(*bag.shells, around)).order


def test_the_stack_is_what_the_pieces_of_the_join_are_thick() -> None:
    planned = plan(demo("secateurs-holster"))
    seam = planned.stitching.seam("round-seam")
    assert [words(p.title) for p in seam.line.plies] == ["front", "welt", "back"]
    assert seam.stack_mm == pytest.approx(2.8 + 3.0 + 2.8)
    sheath = plan(demo("laying-knife"))
    main, welt = sheath.stitching.seam("main-seam"), sheath.draft.piece("welt")
    mouth, over = welt.skives[0].thin[1], welt.skives[0].thick[1]
    by_hand = 2 * 3.2 + 3.2 * np.clip((main.points[:, 1] - mouth) / (over - mouth), 0, 1)
    assert main.stack_mm == pytest.approx(by_hand)


def test_a_ring_is_parted_where_its_edges_begin() -> None:
    ring = np.array(SQUARE)
    outline, edges = parted(
        ring, (Edge("lower", "lower", ring), (40.0, 31.0)), (Edge("upper", "upper", ring), (0.0, 29.0))
    )
    lengths = {e.id: float(arc_length(e.line)[-1]) for e in edges}
    assert lengths == pytest.approx({"lower": 29 + 40 + 31, "upper": 29 + 40 + 31})
    assert len(outline) == 6


def test_cut_outs_have_edges_of_their_own() -> None:
    slot = frozen([[10, 10], [30, 10], [30, 14], [10, 14]])
    slotted = plate().with_slots((slot,))
    assert [e.ring for e in slotted.edges] == [0, 1]
    assert slotted.area_mm2 == pytest.approx(plate().area_mm2 - 80)
    Assembly((slotted,))


@settings(max_examples=examples(60))
@given(any_job)
def test_every_draft_is_an_assembly(job: Job) -> None:
    """What any choices draft has edges that tile it, an order, and a placing of every seam on every piece it names."""
    draft = plan(job).draft
    if draft is None:
        return
    assembly = draft.assembly
    assert sorted(assembly.order) == sorted([*(j.id for j in assembly.joins), *(f.id for f in assembly.fasteners)])
    for seam in assembly.seams:
        assert {p.piece for p in seam.placed} <= {p.id for p in assembly.pieces}
        assert all(p.on < len(seam.placed) for p in seam.plies)
