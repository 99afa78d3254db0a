import itertools
import json
import os
import re
import subprocess
import sys
from pathlib import Path

import cv2
import jsonschema
import numpy as np
import pytest
import shapely

from tests.core.test_texts import Brackets, outside
from vow_line.app import main
from vow_line.core import language
from vow_line.core.quantity import Units
from vow_line.core.thread.stitches import STITCHES
from vow_line.core.typed import read
from vow_line.files.job_json import read_job
from vow_line.instruments import tracing
from vow_line.instruments.camera import Part, stand_in
from vow_line.instruments.tracing import Traced


def _run(capsys: pytest.CaptureFixture[str], *given: str) -> tuple[int, str, str]:
    status = main(given)
    out, err = capsys.readouterr()
    return status, out, err


@pytest.fixture
def demo_folder(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> Path:
    assert main(["demo", "--to", str(tmp_path)]) == 0
    capsys.readouterr()
    return tmp_path


def test_thread_for_a_straight_seam(capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = _run(capsys, "thread", "--run", "254mm", "--pitch", "4mm", "--stack", "4mm", "--json")
    told = json.loads(out)
    assert status == 0
    assert told["holes"] == told["stitches"] + 1 == 65
    assert told["pitch_mm"] == pytest.approx(254 / 64)
    assert told["reserve_mm"] == 150
    assert told["total_mm"] == pytest.approx(told["path_mm"] + told["slack_mm"] + told["spare_mm"] + told["reserve_mm"])
    assert told["slack_mm"] == pytest.approx(0.03 * told["path_mm"])
    assert 4.0 < told["ratio"] < 4.6


def test_thread_in_inches_and_words(capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = _run(
        capsys, "thread", "--run", "10 in", "--pitch", "no 7 french", "--stack", "1/4 in", "--back", "0"
    )
    assert status == 0
    assert "holes" in out
    assert "mm to cut" in out


def test_thread_reads_what_the_desk_reads(capsys: pytest.CaptureFixture[str]) -> None:
    """A thread by its count is the one that a field on the desk reads; 8 oz of leather are 1/8 in."""
    given = ("thread", "--run", "1m", "--pitch", "4mm", "--json", "--stack")
    one = json.loads(_run(capsys, *given, "8 oz", "--thread", "18/4 lea")[1])
    other = json.loads(_run(capsys, *given, "1/8 in", "--thread", f"{read('thread', '18/4 lea', Units())}mm")[1])
    assert one == other
    thick = json.loads(_run(capsys, *given, "8 oz", "--thread", "640 tex")[1])
    assert thick["path_mm"] > one["path_mm"]


@pytest.mark.parametrize("stitch", ["saddle", "double-running"])
def test_thread_beyond_reach_is_cut_in_lengths_that_add_up(capsys: pytest.CaptureFixture[str], stitch: str) -> None:
    arguments = ("thread", "--run", "1500mm", "--pitch", "4mm", "--stack", "6mm", "--stitch", stitch, "--sure", "90%")
    near, far = (json.loads(_run(capsys, *arguments, "--reach", reach, "--json")[1]) for reach in ("1m", "5m"))
    assert len(near["lengths_mm"]) > len(far["lengths_mm"])
    for told in (near, far):
        assert sum(told["lengths_mm"]) == pytest.approx(told["total_mm"])
        assert told["spare_mm"] > 0
    _, out, _ = _run(capsys, *arguments)
    assert "to be sure" in out


@pytest.mark.parametrize(
    ("given", "says"),
    [
        (
            ("--run", "9cm", "--pitch", "4mm", "--stack", "4mm", "--reach", "9m"),
            "--reach: 9000 mm will not do. Give from 200",
        ),
        (("--run", "9cm", "--pitch", "4mm", "--stack", "4mm", "--thread", "thick"), "--thread"),
        (("--run", "ten", "--pitch", "4mm", "--stack", "4mm"), "Cannot read 'ten'"),
        (("--run", "254mm", "--pitch", "no 7", "--stack", "4mm"), "Say which"),
        (("--run=-5mm", "--pitch", "4mm", "--stack", "4mm"), "--run"),
        (("--run", "ten", "--pitch", "4mm", "--stack", "4mm"), "--run"),
        (("--run", "9cm", "--pitch", "4mm", "--stack", "4mm", "--thread", "5mm"), "--thread: 5 mm will not do."),
        (("--run", "9cm", "--pitch", "4mm", "--stack", "4mm", "--back", "11"), "--back: 11 will not do."),
        (("--run", "9cm", "--pitch", "4mm", "--stack", "4mm", "--slack", "101%"), "--slack: 101% will not do."),
        (("--run", "9cm", "--pitch", "4mm", "--stack", "4mm", "--sure", "few"), "--sure"),
        (("--run", "1mm", "--pitch", "4mm", "--stack", "4mm"), "no room"),
        (("--run", "100mm", "--pitch", "4mm", "--stack", "4mm", "--stitch", "magic"), "no stitch 'magic'"),
        (("--run", "100mm", "--pitch", "4mm", "--stack", "4mm", "--margin", "-3mm"), "--margin: -3 mm will not do."),
        (("--run", "100mm", "--pitch", "4mm", "--stack", "4mm", "--back", "4", "--stitch", "zigzag"), "--back"),
        (("--run", "12mm", "--pitch", "4mm", "--stack", "4mm", "--back", "10"), "more than the 3 stitches there are"),
        (("--run", "100mm", "--pitch", "4mm", "--stack", "4mm", "--loops", "4", "--stitch", "butt"), "--loops"),
        (
            ("--run", "100mm", "--pitch", "4mm", "--stack", "4mm", "--loops", "4", "--stitch", "double-running"),
            "--loops",
        ),
    ],
)
def test_what_cannot_be_read_ends_with_2(capsys: pytest.CaptureFixture[str], given: tuple[str, ...], says: str) -> None:
    status, out, err = _run(capsys, "thread", *given)
    assert (status, out) == (2, "")
    assert says in err


def test_plan_tells_everything_as_json(demo_folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = _run(capsys, "plan", str(demo_folder / "spar-knife.vow.json"), "--json")
    told = json.loads(out)
    assert status == 0
    assert {p["id"] for p in told["pieces"]} == {"sheath", "welt", "belt-loop"}
    for piece in told["pieces"]:
        assert piece["outline_mm"][0] == piece["outline_mm"][-1]
    main_seam = next(s for s in told["seams"] if s["id"] == "main-seam")
    assert main_seam["holes"] == len(main_seam["points_mm"]) == len(main_seam["stack_mm"])
    thread = next(t for t in told["thread"] if t["seam"] == "main-seam")
    assert sum(thread["lengths_mm"]) == pytest.approx(thread["total_mm"])
    parts = [thread[f"{k}_mm"] for k in ("path", "slack", "spare", "reserve")]
    assert sum(parts) == pytest.approx(thread["total_mm"], abs=1e-6)
    sheath = next(p for p in told["pieces"] if p["id"] == "sheath")
    assert {e["id"] for e in sheath["edges"]} == {"mouth", "front", "back"}
    assert sheath["material"] == "leather"
    assert any("sheath/front" in j["edges"] for j in told["joins"])
    assert {s["id"] for s in told["steps"]} >= {"cut/sheath", "sew/main-seam", "form"}


def test_a_job_with_holds_ends_with_1_and_says_them(demo_folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = _run(capsys, "plan", str(demo_folder / "hedging-knife.vow.json"))
    assert status == 1
    assert "hold: Width 2 3/16 in from the guard has not been measured." in out


def test_export_writes_every_format(
    qapp: object, demo_folder: Path, capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    status, out, _ = _run(capsys, "export", str(demo_folder / "spar-knife.vow.json"), "--to", str(tmp_path / "out"))
    assert status == 0
    names = {Path(line).name for line in out.split()}
    assert names == {f"spar-knife{s}" for s in (".pdf", "-other-face.pdf", ".svg", ".dxf", "-cutting-list.csv", ".ics")}
    assert all((tmp_path / "out" / n).stat().st_size > 100 for n in names)
    written = {p.name: p.stat().st_mtime_ns for p in (tmp_path / "out").iterdir()}
    again = ("export", str(demo_folder / "spar-knife.vow.json"), "--to", str(tmp_path / "out"))
    status, _, err = _run(capsys, *again)
    assert (status, "--over" in err) == (2, True)
    assert {p.name: p.stat().st_mtime_ns for p in (tmp_path / "out").iterdir()} == written
    assert _run(capsys, *again, "--over")[0] < 2
    assert all(p.stat().st_mtime_ns > written[p.name] for p in (tmp_path / "out").iterdir())


def test_export_into_a_file_is_refused(qapp: object, demo_folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (demo_folder / "blocked").write_text("here")
    status, _, err = _run(
        capsys, "export", str(demo_folder / "spar-knife.vow.json"), "--to", str(demo_folder / "blocked")
    )
    assert status == 2
    assert "could not be written" in err


def test_a_damaged_job_ends_with_2(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "x.vow.json").write_text("{")
    status, _, err = _run(capsys, "plan", str(tmp_path / "x.vow.json"))
    assert status == 2
    assert "not JSON" in err


def test_the_schema_is_the_one_in_the_docs(capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = _run(capsys, "schema")
    assert status == 0
    jsonschema.Draft202012Validator.check_schema(json.loads(out))
    documented = Path(__file__).parent.parent / "docs" / "job.schema.json"
    assert json.loads(documented.read_text()) == json.loads(out), "run: vow-line schema > docs/job.schema.json"


def test_the_command_needs_no_display(demo_folder: Path) -> None:
    told = {k: v for k, v in os.environ.items() if k not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")}
    done = subprocess.run(
        [sys.executable, "-m", "vow_line.app", "plan", str(demo_folder / "grafting-knife.vow.json")],
        env=told, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert (done.returncode, done.stderr) == (0, "")


def test_demo_files_read_back(demo_folder: Path) -> None:
    assert read_job(demo_folder / "laying-knife.vow.json").name == "Laying knife"


def test_lace_from_the_command(capsys: pytest.CaptureFixture[str]) -> None:
    status, out, _ = _run(
        capsys, "lace", "--eyelets", "5", "--gap", "3cm", "--spacing", "40mm", "--tail", "100mm", "--json"
    )
    assert status == 0
    assert json.loads(out)["length_mm"] == pytest.approx(630)
    given = (
        "lace",
        "--eyelets",
        "5",
        "--gap",
        "3cm",
        "--spacing",
        "40mm",
        "--tail",
        "100mm",
        "--leather",
        "3mm",
        "--json",
    )
    assert json.loads(_run(capsys, *given)[1])["length_mm"] == pytest.approx(660), "ten times through"
    assert _run(capsys, "lace", "--eyelets", "1")[0] == 2
    for option, value in (("--gap", "wide"), ("--gap", "900mm"), ("--width=-1mm", "")):
        status, _, err = _run(capsys, "lace", option, *([value] if value else []))
        assert status == 2
        assert option.split("=")[0] in err


@pytest.mark.parametrize("stitch", [
    "whip", "crosses", "awl-lockstitch", "running-down-and-back", "running, down and back", "awl lockstitch",
    "running down and back", "Double Running",
])  # fmt: skip
def test_thread_of_any_stitch(capsys: pytest.CaptureFixture[str], stitch: str) -> None:
    arguments = ("thread", "--run", "100mm", "--pitch", "4mm", "--stack", "4mm", "--stitch", stitch, "--json")
    status, out, _ = _run(capsys, *arguments)
    told = json.loads(out)
    assert status == 0
    slug = "-".join(stitch.replace(",", "").lower().split())
    assert told == json.loads(_run(capsys, *arguments[:-2], slug, "--json")[1]), "words with spaces are understood"
    assert sum(told["lengths_mm"]) == pytest.approx(told["total_mm"])
    assert told["total_mm"] == pytest.approx(told["path_mm"] + told["slack_mm"] + told["spare_mm"] + told["reserve_mm"])
    surer = json.loads(_run(capsys, *arguments, "--sure", "95%")[1])
    assert surer["total_mm"] > told["total_mm"]


@pytest.mark.parametrize(("given", "says"), [
    (("thread", "--pitch", "4mm"), "Missing: --run, --stack."),
    (("thread", "--run"), "--run needs a value."),
    (("thread", "--run", "1m", "--pitch", "4mm", "--stack", "4mm", "--back", "two"), "--back needs a whole number."),
    (("plan",), "Missing: JOB."),
    (("plan", "a.vow.json", "--wide"), "There is no --wide."),
    (("export", "a.vow.json"), "Missing: --to."),
])  # fmt: skip
def test_the_words_of_a_library_are_not_shown(
    capsys: pytest.CaptureFixture[str], given: tuple[str, ...], says: str
) -> None:
    status, out, err = _run(capsys, *given)
    assert (status, out, err.count("\n")) == (2, "", 1)
    assert says in err
    assert "--help" in err


@pytest.mark.parametrize("given", [
    ("thread", "--run", "1m", "--pitch", "4mm", "--stack", "4mm"), ("thread", "--run", "x", "--pitch", "4mm", "--stack", "4mm"),
    ("thread", "--run", "1m", "--pitch", "no 7", "--stack", "4mm"), ("lace", "--eyelets", "5", "--gap", "3000mm"),
    ("plan", "none.vow.json"), ("plan",), ("lace", "--eyelets", "5"),
])  # fmt: skip
def test_the_command_speaks_the_other_language(capsys: pytest.CaptureFixture[str], given: tuple[str, ...]) -> None:
    language.speak(Brackets())
    try:
        _, out, err = _run(capsys, *given)
    finally:
        language.speak(None)
    err = err.removeprefix("vow-line: ").replace("none.vow.json: ", "")
    assert not re.search(r"[^\W\d_]{3}", re.sub(r"--\w+: ", "", outside(out + err)))


def test_what_sew_says_pass_by_pass(demo_folder: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job = demo_folder / "spar-knife.vow.json"
    status, out, _ = _run(capsys, "prompts", str(job), "--seam", "main-seam", "--json")
    told = json.loads(out)
    assert status in (0, 1)
    assert {p["seam"] for p in told} == {"main-seam"}
    assert told[0]["hole"] == 3, "it begins at the third hole"
    assert {p["needle"] for p in told} == {1, 2}
    assert all(b["left_mm"] < a["left_mm"] for a, b in itertools.pairwise(told))
    assert all(p["left_mm"] > p["wanted_mm"] for p in told), "enough to the end"
    assert told[0]["minutes_left"] > told[-1]["minutes_left"] == pytest.approx(0, abs=2)
    assert "look for it on the back" in told[0]["says"] or "look for it on the front" in told[0]["says"]
    status, _, err = _run(capsys, "prompts", str(job), "--seam", "hem")
    assert (status, "main-seam" in err) == (2, True)


def test_an_outline_from_a_picture_or_why_not(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    ring = np.array([[0.0, 0], [60, 0], [60, 150], [0, 150]])
    picture = tmp_path / "slab.png"
    assert cv2.imwrite(
        str(picture), stand_in((Part(ring, (60.0, 60.0, 60.0), 20.0),), at_mm=(60, 60), size_px=(1050, 1400))
    )
    status, out, _ = _run(
        capsys, "trace", str(picture), "--high", "20mm", "--check", "161.6mm", "--kind", "tool", "--json"
    )
    told = tool = json.loads(out)
    assert (status, told["reason"]) == (0, "")
    assert told["length_mm"] == pytest.approx(np.hypot(60, 150), abs=1.5)
    assert told["width_mm"] == pytest.approx(60, abs=1.5)
    knife = json.loads(_run(capsys, "trace", str(picture), "--high", "20mm", "--kind", "knife", "--json")[1])
    assert np.ptp(np.array(tool["thing"]["outline"]), axis=0) == pytest.approx([150, 60], abs=1.5)
    along = knife["thing"]["length"]["outline"] + knife["thing"]["handle_length"]["outline"]
    assert (along, knife["thing"]["length"]["first"]) == (pytest.approx(150, abs=1.5), None), (
        "a reading is still to be taken"
    )
    lines = _run(capsys, "trace", str(picture), "--high", "20mm", "--kind", "moulded")[1].splitlines()
    assert len(lines) > 4
    assert any("60" in line and "mm" in line for line in lines[1:])
    status, _, err = _run(capsys, "trace", str(picture), "--kind", "shaft")
    assert (status, "--kind cannot be that" in err) == (2, True)
    status, out, _ = _run(capsys, "trace", str(picture), "--check", "140 mm", "--json")
    told = json.loads(out)
    assert (status, told["outline_mm"]) == (2, None)
    status, out, err = _run(capsys, "trace", str(picture), "--json")
    by = float(re.search(r"up to (\d\.\d\d) mm too far", err)[1])
    untold, told_high = (
        json.loads(_run(capsys, "trace", str(picture), *high, "--json")[1]) for high in ((), ("--high", "20mm"))
    )
    assert 0 < untold["length_mm"] - told_high["length_mm"] < 2 * 20 * by, "as far out at either end as it says"
    assert "too far out" not in _run(capsys, "trace", str(picture), "--high", "0mm")[2]
    assert _run(capsys, "trace", str(picture), "--high", "-4mm")[0] == 2
    status, out, _ = _run(capsys, "trace", str(picture), "--check", "140 mm", "--json")
    told = json.loads(out)
    assert "140.0 mm was measured" in told["reason"]
    status, _, err = _run(capsys, "trace", str(picture), "--sheet", "Letter")
    assert status == 2
    assert "not Letter" in err
    status, _, err = _run(capsys, "trace", str(picture), "--sheet", "B5")
    assert (status, "--sheet cannot be that" in err) == (2, True)


def test_an_outline_from_a_file_in_mm(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "slab.svg"
    path.write_text('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 60"><rect width="80" height="30"/></svg>')
    status, out, _ = _run(capsys, "outline", str(path), "--scale", "2mm", "--json")
    told = json.loads(out)
    assert status == 0
    assert (told["length_mm"], told["width_mm"]) == (pytest.approx(np.hypot(160, 60)), pytest.approx(60))
    status, _, err = _run(capsys, "outline", str(path))
    assert (status, "does not say how large" in err) == (2, True)
    for which in ("99", "0", "-5"):
        status, out, err = _run(capsys, "outline", str(path), "--scale", "2mm", "--which", which)
        assert (status, out) == (2, ""), which
        assert "--which: There is no curve" in err
    for scale in ("0mm", "-1mm"):
        status, _, err = _run(capsys, "outline", str(path), "--scale", scale)
        assert (status, "--scale" in err) == (2, True)


def test_what_may_be_a_frame_or_of_no_such_size_is_not_taken_unasked(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "page.svg"
    page = '<svg xmlns="http://www.w3.org/2000/svg" width="{w}mm" viewBox="0 0 200 100">{in_it}</svg>'
    sheet = '<rect width="200" height="100"/>'
    path.write_text(page.format(w=200, in_it=sheet + '<rect x="20" y="20" width="60" height="40"/>'))
    status, _, err = _run(capsys, "outline", str(path))
    assert (status, "1: 200.0 × 100.0 mm, perhaps a frame; 2: 60.0 × 40.0 mm" in err) == (2, True)
    for which, wide in ((1, 200), (2, 60)):
        status, out, _ = _run(capsys, "outline", str(path), "--json", "--which", str(which))
        ring = np.array(json.loads(out)["outline_mm"])
        assert (status, np.ptp(ring[:, 0])) == (0, pytest.approx(wide, abs=0.02))
    path.write_text(page.format(w=2, in_it=sheet))
    status, _, err = _run(capsys, "outline", str(path))
    assert (status, "comes out 2.0 × 1.0 mm" in err) == (2, True)
    status, out, _ = _run(capsys, "outline", str(path), "--scale", "0.5mm", "--json")
    assert np.ptp(np.array(json.loads(out)["outline_mm"])[:, 0]) == pytest.approx(100, abs=0.02)


def test_what_an_option_says_is_done_or_refused(capsys: pytest.CaptureFixture[str]) -> None:
    """Of every stitch, with back stitches and with loops: either the thread is longer for it, or it ends with 2."""
    plain = ("thread", "--run", "100mm", "--pitch", "4mm", "--stack", "4mm", "--json", "--stitch")
    for id in STITCHES:
        without = json.loads(_run(capsys, *plain, id, "--back", "0")[1])["path_mm"]
        for option, n in (("--back", 3), ("--loops", 2)):
            status, out, err = _run(
                capsys, *plain, id, *(("--back", "0") if option == "--loops" else ()), option, str(n)
            )
            if status == 0:
                assert json.loads(out)["path_mm"] > without + 4, (id, option)
            else:
                assert (status, option in err) == (2, True), (id, option)


def test_a_command_misspelt_opens_nothing(capsys: pytest.CaptureFixture[str]) -> None:
    status, out, err = _run(capsys, "plann", "job.vow.json")
    assert (status, out) == (2, "")
    assert "'plann'" in err


def test_how_deep_a_gap_goes_whose_end_is_not_seen_is_asked_and_taken(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """By pencil: a notch 6 wide and 60 deep, 60.07 from its end to a corner of its mouth; it is 0.8 wide 8 mm before it ends.
    Told 56, it ends √(56² - 3²) from its mouth, told 66 √(66² - 3²); what is wider than 0.8 is as it was.
    """
    ring = np.array([[0.0, 0], [100, 0], [100, 80], [53, 80], [50, 20], [47, 80], [0, 80]])
    told = Traced(ring, np.zeros((0, 2)), 0, True, False, 8.0, 0.2)
    monkeypatch.setattr(tracing, "trace", lambda *_, **__: told)
    picture = tmp_path / "shears.png"
    assert cv2.imwrite(str(picture), np.zeros((4, 4, 3), np.uint8))

    def traced(*gaps: str) -> tuple[int, str, str]:
        return _run(capsys, "trace", str(picture), "--high", "0mm", "--json", *(f"--gap={g}" for g in gaps))

    status, out, _ = traced()
    assert status == 2
    assert "to the place farthest off seems to be: 60.1 mm, 8.0 mm more or less" in json.loads(out)["reason"]
    for gaps in (("40mm",), ("70mm",), ("60mm", "60mm"), ("wide",)):
        status, out, _ = traced(*gaps)
        assert (status, "--gap" in json.loads(out)["reason"]) == (2, True)
    for told_mm in (56.0, 66.0):
        status, out, _ = traced(f"{told_mm}mm")
        assert status == 0
        deep = np.array([50, 80 - np.sqrt(told_mm**2 - 9)])
        got = json.loads(out)["outline_mm"]
        changed = shapely.Polygon(got).symmetric_difference(shapely.Polygon(ring))
        assert shapely.Polygon(got).is_valid
        assert changed.difference(shapely.box(49.6, 0, 50.4, 28.1)).area < 1e-6
        assert np.hypot(*(np.array(got) - deep).T).min() < 0.01
