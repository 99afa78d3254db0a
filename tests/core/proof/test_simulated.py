"""The proof beside simulated makers: a taut leather walked round every section by its support function, on the outlines as they
are cut. Nothing here knows the proof's arithmetic or any kind's.
"""

from collections.abc import Iterator

import numpy as np
import pytest

from tests.bodies import knife, plain_blade, plausible, read
from tests.jobs import as_chosen, drafted_holds, mended, met
from tests.many import many
from vow_line.core.draft.kind import KindOfPiece
from vow_line.core.draft.kinds import KINDS
from vow_line.core.draft.kinds.folded_sheath import FoldedSheath
from vow_line.core.job import Job, mend
from vow_line.core.leather import Hide
from vow_line.core.measure import THINGS
from vow_line.core.plan import Plan, plan

ANGLES = np.linspace(0.0, np.pi, 181)
COS, SIN = np.cos(ANGLES), np.sin(ANGLES)
OFF = np.concatenate([[0.0], np.geomspace(0.1, 4.0, 9)])
WITHIN_MM = 0.35  # cases nearer to the limit than this are the readings'


class _Sections:
    """Half sections of a knife by their support functions: how far each reaches in every direction of half a turn."""

    def __init__(self, y: np.ndarray, z: np.ndarray) -> None:
        self.edge, self.high = y.max(axis=1), np.where(y > y.max(axis=1)[:, None] - 4.0, z, 0.0).max(axis=1)
        across, up = y[:, None, :] * COS[:, None], np.abs(z[:, None, :] * SIN[:, None])
        self.reach = np.maximum((across + up).max(axis=2), 0.0)  # the fold is at (0, 0)

    def taut(self, of: np.ndarray, half: float, neutral_mm: float) -> np.ndarray:
        """The shortest leather from the fold over each section `of` to a welt of half thickness `half` at its edge or past it.

        Half the perimeter of the hull is the integral of its support function over half a turn (Cauchy); the leather has
        turned as far as where the welt's corner begins to bear.
        """
        best = np.full(len(of), np.inf)
        for off in OFF:
            now = np.arange(len(of)) if off == 0 else np.flatnonzero(self.high[of] > half)
            corner = (self.edge[of[now]] + off)[:, None] * COS
            bears, reach = corner + half * SIN, self.reach[of[now]]
            support = np.maximum(np.maximum(bears, corner - half * SIN), reach)
            long = np.sum((support[:, 1:] + support[:, :-1]) / 2 * np.diff(ANGLES), axis=1) - half
            holds = bears >= reach - 1e-9
            switch = np.where(holds.any(axis=1), ANGLES[len(ANGLES) - 1 - np.argmax(holds[:, ::-1], axis=1)], 0.0)
            best[now] = np.minimum(best[now], long + neutral_mm * (np.pi - switch))
        return best


def _spare(planned: Plan) -> float:
    """The least a maker has to spare, drawing the knife out of the sheath as it is cut: from the edges of the flat pieces."""
    draft, job, body = planned.draft, planned.job, planned.body
    inner, fold = draft.piece("welt").edge("inner").line[::-1], draft.piece("sheath").folds[0]
    piece = job.piece
    neutral = (0.4 if piece.formed else 0.5) * job.leather.thickness_mm
    mouth = -min(piece.seat_mm, -float(body.x_mm[0]) - 0.5)
    deep = np.flatnonzero(body.x_mm >= mouth)
    near = np.flatnonzero((np.abs(body.x_mm[deep]) < 12) | (body.x_mm[deep] > body.x_mm[-1] - 3))
    deep = deep[np.union1d(np.arange(0, len(deep), 2), near)]
    x, sharp = body.x_mm[deep], body.blade[deep]
    top = float(body.top_mm[body.x_mm >= mouth].min())
    sections = _Sections(np.maximum(body.y_mm[deep] - top, 0.0), body.z_mm[deep])
    low = max(mouth, float(fold[:, 1].min()), float(inner[0, 1]))
    rising = np.maximum.accumulate(inner[:, 1])
    give = np.where(sharp, 0.0, 0.03 * sections.taut(np.arange(len(x)), 0.0, neutral))  # a mouth may hold firmly
    least = np.inf
    for at in np.concatenate([np.linspace(low, float(x[-1]), 56), x[(x > low) & (np.abs(x) < 12)][::2]]):
        has = float(np.interp(at, rising, inner[:, 0]))
        welt = piece.welts * piece.welt_mm * float(np.clip((at - mouth) / piece.skive_mm, 0, 1))
        of = np.flatnonzero(x >= at - 1e-6)
        least = min(least, float((has + give[of] - sections.taut(of, welt / 2, neutral)).min(initial=np.inf)))
    return least


def _random_sheath(rng: np.random.Generator) -> Job:
    piece = FoldedSheath(
        opened=bool(rng.uniform() < 0.4), clearance_mm=round(float(rng.uniform(0.2, 2.5)), 1), welts=int(rng.integers(1, 3)),
        seat_mm=round(float(rng.uniform(5, 45)), 1), mouth_ease_mm=round(float(rng.uniform(-6, 3)), 1),
        welt_mm=round(float(rng.uniform(2, 4)), 1), edge_to_thread_mm=6.0, formed=bool(rng.uniform() < 0.3), loop=None,
    )  # fmt: skip
    hide = Hide(thickness_mm=round(float(rng.uniform(1.6, 4.0)), 1))
    return Job(name="any", thing=knife(rng), piece=piece, leather=hide)


@pytest.mark.parametrize("seed", range(3))
def test_a_simulated_maker_agrees_whether_the_knife_comes_out(seed: int) -> None:
    rng, met = np.random.default_rng(seed), {True: 0, False: 0}
    while sum(met.values()) < many(100):
        planned = plan(_random_sheath(rng))
        if planned.proof is None:
            continue
        spare, limit = _spare(planned), -(planned.body.spread_mm + 0.3)
        if abs(spare - limit) < WITHIN_MM:
            continue
        held = bool({f.code for f in planned.proof.findings if f.level == "hold"} & {"no-way", "no-room"})
        assert held is (spare < limit), (spare, limit, planned.job.thing, planned.job.piece)
        met[held] += 1
    assert min(met.values()) >= many(100) / 10, "both verdicts were really met"


def _codes(planned: Plan) -> set[str]:
    return {f.code for f in planned.findings if f.level == "hold"}


def test_a_plain_blade_in_an_opened_pocket_always_comes_out() -> None:
    """Common practice: a blade that only narrows slides out of a pocket that runs straight."""
    rng, drafted = np.random.default_rng(11), 0
    while drafted < many(1000):
        planned = plan(Job(name="plain", thing=plain_blade(rng), piece=FoldedSheath(seat_mm=20.0, loop=None)))
        if planned.draft is None:
            continue
        drafted += 1
        assert "draw-out" not in {f.code for f in planned.draft.findings if f.level == "hold"}
        if drafted % 5 == 0:
            assert not {"draw-out", "no-way", "no-room"} & {f.code for f in planned.at("draft") if f.level == "hold"}


@pytest.mark.parametrize("seed", range(3))
def test_a_pocket_truly_closed_by_a_millimetre_of_welt_is_always_held(seed: int) -> None:
    """A neck narrower than the belly below it, the welt following it in: where the simulated maker lacks a millimetre."""
    rng, closed = np.random.default_rng(100 + seed), 0
    while closed < many(100):
        thing = knife(rng, guard=False)
        stations = list(thing.stations)
        middle = len(stations) // 2
        width = round(float(stations[middle].width.mean_mm - rng.uniform(4.0, 9.0)), 1)
        for k in range(middle):
            stations[k] = stations[k].model_copy(update={"width": read(width), "drop": 0.0})
        thing = thing.model_copy(update={"stations": tuple(stations)})
        planned = plan(Job(name="closed", thing=thing, piece=FoldedSheath(opened=False, seat_mm=15.0, loop=None)))
        if planned.draft is None or _spare(planned) > -1.0:
            continue
        closed += 1
        assert {"draw-out", "squeeze", "no-way"} & {f.code for f in planned.at("draft") if f.level == "hold"}


def _plausible(kind: type[KindOfPiece]) -> Iterator[Plan]:
    """Plausible jobs of a kind: as it is usually made, and chosen at random, what is offered at a hold then pressed."""
    tag = str(kind.model_fields["kind"].default)
    things = [t for t in THINGS if issubclass(t.gives, kind.fits)]
    rng, n = np.random.default_rng(5), 0
    while n < many(200):
        job = Job(name="any", thing=plausible(things[n % len(things)], rng, tag), piece=kind(kind=tag))
        chosen = as_chosen(met(job, rng), rng, many=n % 3)
        planned = plan(mended(chosen) if n % 3 else chosen)
        if planned.draft is not None:  # readings that make no body are held at Measure
            n += 1
            yield planned


@pytest.mark.parametrize("kind", KINDS, ids=lambda k: str(k.model_fields["kind"].default))
def test_plausible_things_with_choices_as_they_come_are_hardly_ever_held(kind: type[KindOfPiece]) -> None:
    held = [{f.code for f in holds} for p in _plausible(kind) if (holds := drafted_holds(p))]
    assert len(held) <= 0.05 * many(200), held


def test_a_holds_mends_end_it_within_three_presses() -> None:
    rng, pressed = np.random.default_rng(21), 0
    for _ in range(many(200)):
        job = _random_sheath(rng)
        planned = plan(job)
        for hold in [f for f in planned.findings if f.level == "hold" and f.station == "draft" and f.mend]:
            mended = job
            for _ in range(3):
                again = next(
                    (f for f in plan(mended).findings if (f.code, f.at) == (hold.code, hold.at) and f.level == "hold"),
                    None,
                )
                if again is None or again.mend is None:
                    break
                mended = mend(mended, again.mend)
            assert (hold.code, hold.at) not in {(f.code, f.at) for f in plan(mended).findings if f.level == "hold"}, (
                hold
            )
            pressed += 1
    assert pressed > many(60)
