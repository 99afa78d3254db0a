"""Tubes with a base: bent round in space and put on their discs, hole by hole; what cannot be turned or closed is said."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.jobs import read, words
from tests.many import examples
from vow_line.core.curve import frozen
from vow_line.core.draft.kinds.tube import Lid, Tube
from vow_line.core.draft.loop import BeltLoop
from vow_line.core.draft.pieces import Piece, edged
from vow_line.core.job import Job, change, mend
from vow_line.core.leather import Hide
from vow_line.core.measure.things.round import RoundThing
from vow_line.core.plan import Plan, plan
from vow_line.core.proof import prove
from vow_line.core.steps import ornament
from vow_line.core.stitch import StitchChoices

BUTT = Hide(outline=((0, 0), (2600, 0), (2600, 1600), (0, 1600)))


def tube(across: float = 52.0, long: float = 180.0, thick: float = 2.4, pitch: float = 4.0, tannage: str = "veg",
         **choices: object) -> Plan:  # fmt: skip
    hide = BUTT.model_copy(update={"thickness_mm": thick, "tannage": tannage})
    return plan(Job(name="tube", thing=RoundThing(across=read(across), length=read(long)), piece=Tube(**choices),
                    leather=hide, stitch=StitchChoices(tool="awl", pitch_mm=pitch)))  # fmt: skip


@settings(max_examples=examples(20), deadline=None)
@given(across=st.floats(30, 150), thick=st.floats(1.0, 3.5), ease=st.floats(0, 4), turned=st.booleans(),
       pitch=st.floats(3, 6))  # fmt: skip
def test_bent_round_the_wall_meets_its_disc_hole_by_hole(
    across: float, thick: float, ease: float, turned: bool, pitch: float
) -> None:
    made = tube(across, thick=round(thick, 2), ease_mm=round(ease, 1), pitch=round(pitch, 1),
                sewn="turned" if turned else "corner")  # fmt: skip
    wall, seam = made.draft.piece("wall"), made.stitching.seam("base-seam")
    inside = made.measured.body.across_mm + made.job.piece.ease_mm
    disc, round_ = seam.on(0), seam.on(1)
    assert len(disc) == len(round_)
    half = (inside + made.job.leather.thickness_mm) * np.pi / 2  # half the neutral girth, k = 0.5
    angle = np.pi * round_[:, 0] / half
    off = np.angle(np.exp(1j * (angle - np.unwrap(np.arctan2(disc[:, 0], -disc[:, 1])))))
    assert np.ptp(np.unwrap(off)) < 1e-3, "hole by hole they lie on one radius"
    cut = float(np.ptp(wall.edge("mouth").line[:, 0])) - (2 * seam.line.margin_mm if turned else 0)
    assert cut == pytest.approx(2 * half, abs=0.1)
    if turned:
        assert np.hypot(*disc.T) == pytest.approx(half / np.pi, abs=0.1)
        return
    # in space: the wall stands on the disc; from its outer face, through the corner, to the disc's lower face
    t, e = made.job.leather.thickness_mm, seam.line.margin_mm
    outer = inside / 2 + t
    foot = float(wall.outline[:, 1].max())
    without = np.column_stack([outer * np.sin(angle), -outer * np.cos(angle), foot - round_[:, 1]])
    below = np.column_stack([disc[:, 0], disc[:, 1], np.full(len(disc), -t)])
    turn = np.angle(np.exp(1j * off).mean())
    c, s = np.cos(turn), np.sin(turn)
    below[:, :2] = below[:, :2] @ np.array([[c, s], [-s, c]])
    through = np.linalg.norm(without - below, axis=1)
    assert through == pytest.approx(seam.stack_mm, abs=0.3)
    assert seam.stack_mm == pytest.approx(np.hypot(e + t, e))
    assert np.abs(round_[:, 0]).max() < half - 0.3 * seam.pitch_mm, "no hole in the joint of the wall"


def test_a_tube_by_hand() -> None:
    """By pencil: 52 across and 1 of ease, leather of 2.4: π × 55.4 = 174.04; the disc under the wall 53 + 4.8 = 57.8; deep
    180 − 30. Turned, of 1.4, 5 of margin: π × 54.4 + 10 = 180.90, the disc 54.4 + 10.
    """
    wall, base = (tube().draft.piece(p) for p in ("wall", "base"))
    assert np.ptp(wall.outline, axis=0) == pytest.approx([174.04, 150.0], abs=0.01)
    assert float(np.ptp(base.outline[:, 0])) == pytest.approx(57.8, abs=0.05)
    turned = tube(thick=1.4, sewn="turned", margin_mm=5.0).draft
    assert np.ptp(turned.piece("wall").outline, axis=0) == pytest.approx([180.90, 155.0], abs=0.01)
    assert float(np.ptp(turned.piece("base").outline[:, 0])) == pytest.approx(64.4, abs=0.05)


def test_a_lid_goes_over_the_tube_and_its_base_is_stiffened_inside_the_stitches() -> None:
    made = tube(lid=Lid(deep_mm=70), stiffened=True, loop=BeltLoop(width_mm=22, down_mm=50))
    lid, disc = made.draft.piece("lid-wall"), made.draft.piece("stiffener")
    inside = float(np.ptp(lid.outline[:, 0])) / np.pi - 2.4
    assert inside >= 53 + 2 * 2.4 + 0.5, "it is wider inside than the tube outside"
    sewn = np.hypot(*made.stitching.seam("base-seam").on(0).T)
    assert np.hypot(*disc.outline.T).max() <= sewn.min() - 3 + 0.01
    steps = [s.id for s in made.work.steps]
    assert steps.index("fix/stiffener") < steps.index("sew/base-seam")
    assert steps.index("sew/belt-loop") < steps.index("sew/side") < steps.index("sew/base-seam")
    assert not [f for f in made.findings if f.level == "hold"]


def test_what_is_sewn_inside_out_is_turned_when_its_last_seam_is_sewn_and_has_no_edges_to_finish() -> None:
    made = tube(thick=1.4, sewn="turned", margin_mm=5.0, lid=Lid(deep_mm=70))
    steps = [s.id for s in made.work.steps]
    assert steps.index("sew/base-seam") < steps.index("out/tube")
    assert steps.index("sew/lid-base-seam") < steps.index("out/lid")
    assert not [s for s in steps if s.startswith("edge/") and not s.endswith("/mouth")]


def _held(made: Plan, piece: Piece) -> set[str]:
    pieces = tuple(piece if p.id == piece.id else p for p in made.draft.pieces)
    proof = prove(replace(made.draft.assembly, pieces=pieces), (), made.measured.body)
    return {f.code for f in proof.findings if f.level == "hold"}


def _times(piece: Piece, x: float, y: float) -> Piece:
    outline, edges = edged(*(replace(e, line=frozen(e.line * [x, y])) for e in piece.edges))
    return replace(piece, outline=outline, edges=edges)


def test_the_proof_finds_a_wall_too_narrow_and_a_disc_too_large() -> None:
    made = tube()
    wall, base = made.draft.piece("wall"), made.draft.piece("base")
    assert _held(made, wall) == set()
    assert "does-not-close" in _held(replace_lies(made, 0.97), wall)
    assert "edges-differ" in _held(made, _times(base, 1.06, 1.06))
    assert "edges-differ" in _held(made, _times(base, 0.94, 0.94))


def replace_lies(made: Plan, times: float) -> Plan:
    """The plan with the wall and where the thing lies on it so many times as wide."""
    assembly = made.draft.assembly
    lies = tuple(replace(k, p=frozen(k.p * [times, 1.0]), q=frozen(k.q * [times, 1.0])) for k in assembly.lies)
    changed = plan(made.job)
    assert made.draft is not None
    changed.__dict__["draft"] = replace(made.draft, assembly=replace(assembly, lies=lies))
    return changed


@pytest.mark.parametrize(
    ("thick", "tannage", "choices", "code"),
    [
        (2.4, "veg", {"sewn": "turned"}, "does-not-turn"), (3.2, "chrome", {"sewn": "turned"}, "does-not-turn"),
        (2.4, "veg", {"out_mm": 190.0}, "nothing-goes-in"), (2.4, "veg", {"out_mm": 100.0}, "more-out-than-in"),
        (2.4, "veg", {"lid": Lid(deep_mm=20)}, "lid-shallow"),
        (2.4, "veg", {"lid": Lid(deep_mm=70), "loop": BeltLoop(width_mm=22)}, "lid-over-loop"),
        (2.4, "veg", {"margin_mm": 39.0, "out_mm": 120.0}, "margin-too-wide"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_a_tube_mends_in_one_press(
    thick: float, tannage: str, choices: dict[str, object], code: str
) -> None:
    made = tube(thick=thick, tannage=tannage, **choices)
    found = next(f for f in made.findings if f.code == code)
    assert found.mend is not None
    assert code not in {f.code for f in plan(mend(made.job, found.mend)).findings}


def test_soft_leather_turns() -> None:
    assert not [f for f in tube(thick=2.4, tannage="chrome", sewn="turned").findings if f.level == "hold"]
    found = next(f for f in tube(across=14.0, thick=1.4, sewn="turned").findings if f.code == "does-not-turn")
    assert found.level == "hold", "a tube twelve thicknesses wide is not turned"


@settings(max_examples=examples(15), deadline=None)
@given(st.floats(40, 120), st.floats(1.2, 3.0), st.floats(0.5, 3.0), st.booleans(), st.booleans())
def test_a_lined_tube_holds_the_thing_inside_its_linings(
    across: float, thick: float, lining: float, turned: bool, base_too: bool
) -> None:
    """By hand: the wall's middle lies half its thickness outside the lining; the thing stands on what lies on the base."""
    bare = tube(across=across, thick=thick, sewn="turned" if turned else "corner", stiffened=True)
    job = change(ornament(bare.job, kind="lining", piece="wall"), "ornaments.0.thick_mm", lining)
    if base_too:
        job = change(ornament(job, kind="lining", piece="base"), "ornaments.1.thick_mm", lining)
    made = plan(job)
    assert not {f.code for f in made.findings if f.level == "hold"} - {"does-not-turn", "leather-too-small"}
    assert made.proof is not None
    assert all(c.holds for c in made.proof.checked)
    wall, margin = made.draft.piece("wall"), made.job.piece.margin_mm if turned else 0.0
    wide, deep = np.ptp(wall.outline, axis=0)
    assert (wide - 2 * margin) / np.pi == pytest.approx(across + made.job.piece.ease_mm + 2 * lining + thick)
    inside = made.measured.body.length_mm - made.job.piece.out_mm
    assert deep - margin == pytest.approx(inside + thick + (lining if base_too else 0.0)), "a stiffener takes of it too"
    lidded = change(job, "piece.lid", Lid(deep_mm=made.job.piece.out_mm + 60.0))
    lids = [
        plan(lidded),
        plan(change(ornament(lidded, kind="lining", piece="lid-wall"), f"ornaments.{1 + base_too}.thick_mm", 2.0)),
    ]
    one, other = (float(np.ptp(p.draft.piece("lid-wall").outline[:, 0])) for p in lids)
    assert other - one == pytest.approx(2 * np.pi * 2.0), "its lining lies between it and the tube"
    told = {r.key: words(r.sum) for r in made.draft.tell()}
    assert "of lining" in told["inside"]
    assert "lie inside on the base" in told["deep"]
