"""Pictures drawn at random on coloured sheets and on white paper, traced back, and held against what was drawn both ways.

On white paper what is dark is traced, and what is in doubt refused; steel as bright as the paper is not to be seen, and is
what a length by tape is asked for.
"""

import numpy as np
import pytest
import shapely

from tests.many import ALL
from tests.reference.pictured import HANDLES, SHEETS, Light, at_random, tools, whole
from tests.reference.test_picture import off
from vow_line.core.curve import Line
from vow_line.core.ring import sides, turned_right
from vow_line.instruments.camera import Part, Shadow, stand_in
from vow_line.instruments.gaps import ended, gaps_of
from vow_line.instruments.sheet import find_sheet
from vow_line.instruments.tracing import MayTouch, NoOutline, WhichSheet, trace, trace_all


def _traced(sheet: str, light: Light, cases: int) -> tuple[list[tuple[float, float, float]], list[str]]:
    """How far the traced are off, and the words of what was refused. How deep a gap goes whose end is not seen is measured on
    what was drawn, by a tape half a mm off either way.
    """
    found, refused = [], []
    for k in range(cases):
        rng = np.random.default_rng([k, 17])
        seen = at_random(rng, sheet, light)
        try:
            traced = trace(seen.picture, sure=True)
        except NoOutline as error:
            refused.append(str(error))
            continue
        assert traced is not None
        assert traced.coloured == (sheet != "white")
        ring = traced.outline
        for gap in gaps_of(ring):
            end, far = (seen.truth[np.argmin(np.hypot(*(seen.truth - at).T))] for at in (gap.ends, gap.far))
            measured = ended(ring, gap, float(np.hypot(*(end - far))) + rng.uniform(-0.5, 0.5))
            assert measured is not None, seen.made_with
            ring = measured
        found.append(off(ring, seen.truth))
    return found, refused


@pytest.mark.parametrize("sheet", sorted(SHEETS))
def test_on_a_coloured_sheet_shadows_do_not_matter(sheet: str) -> None:
    """150 pictures a colour: 0.35 mm root mean square, 1.0 mm either way in 95 of 100 and 1.3 in all; 5 in 100 refused."""
    cases = 150 if ALL else 1
    found, refused = _traced(sheet, "hard", cases)
    assert len(refused) <= 0.05 * cases, refused
    worst = np.array([max(f[1:]) for f in found])
    assert max(f[0] for f in found) < 0.35
    assert (worst <= 1.0).mean() >= 0.95 or (worst > 1.0).sum() <= 1
    assert (worst < 1.3).all()


@pytest.mark.parametrize("degrees", [6.0, 10.0, 14.0, 25.0, 60.0])
def test_how_deep_a_gap_goes_is_asked_where_its_end_is_not_seen(degrees: float) -> None:
    """By pencil: its sides are 0.8 mm apart 0.4 / tan of half their angle before they meet; a point is none, nor a wide gap."""
    half = np.radians(degrees / 2)
    w = 60.0 * np.tan(half)
    notch = np.array([[0, 0], [100, 0], [100, 80], [50 + w, 80], [50, 20], [50 - w, 80], [0, 80]], float)
    spike = np.array([[0, 0], [w, 60], [-w, 60]], float)
    for way in (1, -1):
        assert [g.off_mm for g in gaps_of(notch[::way])] == pytest.approx(
            [0.4 / np.tan(half)][: degrees < 20], abs=0.02
        )
        assert gaps_of(spike[::way]) == ()
    only = {name for name, parts in tools().items() if gaps_of(whole(tuple(Part(p) for p in parts)))}
    assert only == {"shears"}


@pytest.mark.parametrize("angle", [0.0, 0.7, 2.5])
def test_two_gaps_are_asked_about_one_by_one(angle: float) -> None:
    """By pencil: a bar with a notch in either end, one 40 deep and one 60; each ends where it was measured."""
    turn = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    drawn = (
        np.array([[0, 0], [200, 0], [200, 8], [160, 10], [200, 12], [200, 20], [0, 20], [0, 13], [60, 10], [0, 7]])
        @ turn
    )
    long, short = gaps_of(drawn)
    assert (long.seems_mm, short.seems_mm) == pytest.approx((np.hypot(160, 10), np.hypot(140, 10)), abs=0.01)
    ring = drawn
    for gap, mm in ((long, 163.0), (short, 139.0)):
        measured = ended(ring, gap, mm)
        assert measured is not None
        ring = measured
    for gap, mm in zip((long, short), (163.0, 139.0), strict=True):
        assert np.abs(np.hypot(*(ring - gap.far).T) - mm).min() < 0.01
    changed = shapely.Polygon(ring)
    assert changed.is_valid
    narrow = shapely.union_all([shapely.Point(g.ends).buffer(g.off_mm + 0.5) for g in (long, short)])
    assert changed.symmetric_difference(shapely.Polygon(drawn)).difference(narrow).area < 1e-6


def test_on_white_paper_dark_tools_are_traced_and_the_doubtful_refused() -> None:
    """Bright steel is refused with the cure. What is answered is within 2 mm, but for one in 30: an awl that is brighter than a
    shadow as dark as steel, whose length comes out 4 to 6 mm off, and is asked for by tape.
    """
    cases = 150 if ALL else 1
    easy, few = _traced("white", "easy", cases)
    assert len(few) <= max(0.15 * cases, 1)
    hard, refused = _traced("white", "hard", cases)
    assert all(max(f[1:]) < 2 for f in easy)
    assert sum(max(f[1:]) > 2 for f in hard) <= max(0.05 * cases, 1)
    assert all(max(f[1:]) < 8 for f in hard)
    assert all("sheet of a strong colour" in words or "bench" in words for words in refused)


def test_steel_nearly_as_bright_as_white_paper_is_seen_by_its_faint_edges() -> None:
    """Within 6 % of the paper's tone; a tenth are the very tone of it, with no shadow: those none can see."""
    cases = 150 if ALL else 1
    found, _ = _traced("white", "flat", cases)
    assert sum(max(f[1:]) > 2 for f in found) <= max(0.12 * cases, 1)


def _one(name: str, steel: float = 150.0, handle: str = "walnut") -> tuple[Part, ...]:
    blade, grip = (turned_right(r @ np.array([[0.0, 1.0], [-1.0, 0.0]])) for r in tools()[name])
    low = np.vstack([blade, grip]).min(axis=0)
    return Part(blade - low, (steel,) * 3), Part(grip - low, HANDLES[handle])


HARD = {"at_mm": (60.0, 30.0), "above_mm": 480.0, "shadow": Shadow((8.0, 5.0), 0.4, 0.7, widens=True)}


def test_a_grip_of_the_sheets_own_hue_is_never_lost_in_silence() -> None:
    """It is not seen; where it joins two parts they are two things, and where it is at an end the length by tape tells."""
    green = stand_in(_one("paring knife", handle="green"), paper=(70.0, 150.0, 60.0), **HARD)  # type: ignore[arg-type]
    traced = trace(green, sure=True)
    assert traced is not None
    assert sides(traced.outline)[0] < sides(whole(_one("paring knife")))[0] - 20, (
        "what the maker is asked, and measures"
    )
    knob = Part(np.array([[8.0, 190], [22, 190], [22, 205], [8, 205]]), (150.0,) * 3)
    with pytest.raises(NoOutline, match="own colour"):
        trace(stand_in((*_one("paring knife", handle="green"), knob), paper=(70.0, 150.0, 60.0), **HARD), sure=True)  # type: ignore[arg-type]


@pytest.mark.parametrize("paper", [SHEETS["blue"], (232.0, 232.0, 232.0)][: 2 if ALL else 1])
def test_two_things_are_two_and_what_may_touch_is_asked(paper: tuple[float, float, float]) -> None:
    """Apart, where one is looked for, they are refused; touching at a corner it is asked; said to be one, it is traced."""
    one, other = (np.array([[0, 0], [50, 0], [50, 70], [0, 70]], float) + at for at in ((0, 0), (49, 69)))
    dark = (40.0, 40.0, 44.0)
    at = {"at_mm": (40.0, 60.0), "above_mm": 480.0, "paper": paper}
    touching = stand_in((Part(one, dark), Part(other, dark)), **at)  # type: ignore[arg-type]
    with pytest.raises(MayTouch, match="two things may touch"):
        trace(touching, sure=True)
    traced = trace(touching, sure=True, whole=True)
    assert traced is not None
    assert max(off(traced.outline, whole((Part(one), Part(other))))[1:]) < 1.0
    apart = stand_in((Part(one, dark), Part(other + [15, 15], dark)), **at)  # type: ignore[arg-type]
    with pytest.raises(NoOutline, match="Two things"):
        trace(apart, sure=True)
    found = trace_all(apart, sure=True)
    assert found is not None
    assert len(found) == 2


def test_dots_beside_an_outline_name_it() -> None:
    """One for the first, three for the third, none for another: on white and on a coloured sheet, whichever lies left."""
    rings = [np.array([[0, 0], [48, 6], [44, 70], [4, 66]], float) + at for at in ((0, 0), (80, 10), (20, 110))]
    turn = np.linspace(0, 2 * np.pi, 24, endpoint=False)

    def dots(x: float, y: float, n: int) -> list[Line]:
        return [np.column_stack([x + 7 * k + 1.6 * np.cos(turn), y + 1.6 * np.sin(turn)]) for k in range(n)]

    marks = [*dots(10, 80, 3), *dots(90, 90, 1)]
    for paper in (SHEETS["green"], (232.0, 232.0, 232.0)):
        parts = [Part(r, (60.0, 95.0, 150.0)) for r in rings] + [Part(m, (25.0,) * 3) for m in marks]
        found = trace_all(stand_in(tuple(parts), at_mm=(35.0, 40.0), above_mm=480.0, paper=paper), sure=True)
        assert found is not None
        assert [t.marks for t in found] == [3, 0, 1]
        for traced, ring in zip(found, (rings[0], rings[2], rings[1]), strict=True):
            assert max(off(traced.outline, ring)[1:]) < 1.0


def test_ruled_grey_or_tinted_paper_is_read_or_refused_with_what_to_do() -> None:
    knife = _one("drop point", 60.0)
    across = [np.array([[-50, y], [160, y], [160, y + 0.4], [-50, y + 0.4]], float) for y in np.arange(-20, 250, 8.0)]
    ruled = stand_in((*(Part(a, (215.0, 195.0, 190.0)) for a in across), *knife), at_mm=(50.0, 30.0), above_mm=480.0)
    with pytest.raises(NoOutline, match="strong colour"):
        trace(ruled, sure=True)
    papers = ((150.0, 60.0), (232.0, 205.0), ((195.0, 215.0, 225.0), (60.0, 85.0, 115.0)))
    for paper, bench in papers[:: 1 if ALL else 2]:
        picture = stand_in(knife, at_mm=(60.0, 30.0), above_mm=480.0, paper=paper, bench=bench)  # type: ignore[arg-type]
        if bench == 205.0:
            with pytest.raises(NoOutline, match="sheet of strong colour"):
                trace(picture, sure=True)
            continue
        traced = trace(picture, sure=True)
        assert traced is not None
        assert max(off(traced.outline, whole(knife))[1:]) < 1.0


def test_a_coloured_sheet_is_found_where_brightness_does_not_tell_it_from_the_bench() -> None:
    """Its corners to a pixel, by the way it was drawn: the same scene with a dark bench finds them by brightness."""
    knife = _one("drop point")
    for paper in SHEETS.values():
        grey = float(0.114 * paper[0] + 0.587 * paper[1] + 0.299 * paper[2])
        hard, plain = (stand_in(knife, at_mm=(60.0, 30.0), above_mm=480.0, paper=paper, bench=b) for b in (grey, 10.0))
        found, known = (find_sheet(p, "A4", sure=True) for p in (hard, plain))
        assert found is not None
        assert known is not None
        assert np.abs(found.px - known.px).max() < 1.0


def test_the_sheet_is_asked_where_it_may_be_either() -> None:
    """Seen so aslant that both sheets fit, the question names both; told which it is, the outline comes back."""
    knife = _one("drop point")
    picture = stand_in(
        knife, paper=SHEETS["green"], at_mm=(60.0, 30.0), above_mm=437.0, aside_mm=(84.0, -3.0), turn_rad=0.083
    )
    with pytest.raises(WhichSheet) as asked:
        trace(picture)
    assert set(asked.value.sheets) == {"A4", "Letter"}
    traced = trace(picture, "A4", sure=True)
    assert traced is not None
    assert max(off(traced.outline, whole(knife))[1:]) < 1.0


def test_what_the_generator_draws_is_as_large_as_it_says() -> None:
    """By counting pixels: a square of 60 mm, black on white, seen from right above, covers 3,600 mm² to a tenth of a pixel."""
    square = np.array([[0, 0], [60, 0], [60, 60], [0, 60]], float)
    picture = stand_in((Part(square, (0.0,) * 3),), at_mm=(70.0, 100.0), aside_mm=(0.0, 0.0), turn_rad=0.0, noise=0.0, lamp=0.0,
                       vignette=0.0, bench=232.0)  # fmt: skip
    share = float((1 - picture[..., 1] / 232.0).sum())
    px_per_mm = 0.8 * 2100 / 620
    assert np.sqrt(share) / px_per_mm == pytest.approx(60, abs=0.1 / px_per_mm)
