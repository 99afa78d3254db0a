"""Files written whole: what happens to links, modes, long names, and saves that are killed."""

import os
import signal
import stat
import subprocess
import sys
import time
from pathlib import Path

import pytest

from vow_line.core.errors import FailedWrite, UnreadableFile
from vow_line.files.job_json import JOB_SUFFIX, MOST_NAME, file_name
from vow_line.files.whole import LONGEST_NAME, PART, STALE_S, HasOtherNames, last_good, read_whole, sweep, write_whole

OLD, NEW = b"old" * 1000, b"new" * 1000


def _mode(path: Path) -> int:
    return stat.S_IMODE(path.stat().st_mode)


def test_a_symbolic_link_is_followed_and_stays_one(tmp_path: Path) -> None:
    kept, link = tmp_path / "sync" / "kept", tmp_path / "link"
    kept.parent.mkdir()
    kept.write_bytes(OLD)
    link.symlink_to(kept)
    write_whole(link, NEW, keep_last=True)
    assert link.is_symlink()
    assert kept.read_bytes() == NEW
    assert last_good(kept).read_bytes() == OLD
    gone = tmp_path / "gone"
    gone.symlink_to(tmp_path / "sync" / "made")
    write_whole(gone, NEW)
    assert (tmp_path / "sync" / "made").read_bytes() == NEW
    itself = tmp_path / "itself"
    itself.symlink_to(itself)
    with pytest.raises(FailedWrite):
        write_whole(itself, NEW)


def test_the_mode_is_kept_and_what_is_private_is_its_owners(tmp_path: Path) -> None:
    path = tmp_path / "a"
    write_whole(path, OLD, private=True)
    assert _mode(path) == 0o600
    for mode in (0o640, 0o666, 0o755):
        path.chmod(mode)
        write_whole(path, NEW, private=True, keep_last=True)
        assert _mode(path) == mode
        assert _mode(last_good(path)) == mode


def test_what_may_only_be_read_and_what_is_no_file_is_let_be(tmp_path: Path) -> None:
    path = tmp_path / "a"
    path.write_bytes(OLD)
    path.chmod(0o444)
    with pytest.raises(FailedWrite, match="only be read"):
        write_whole(path, NEW)
    assert path.read_bytes() == OLD
    os.mkfifo(tmp_path / "pipe")
    (tmp_path / "folder").mkdir()
    for name in ("pipe", "folder"):
        with pytest.raises(FailedWrite, match="no file"):
            write_whole(tmp_path / name, NEW)


def test_a_file_with_other_names_parts_from_them_only_with_a_word(tmp_path: Path) -> None:
    path, other = tmp_path / "a", tmp_path / "b"
    path.write_bytes(OLD)
    os.link(path, other)
    with pytest.raises(HasOtherNames, match="2 names"):
        write_whole(path, NEW)
    assert path.read_bytes() == other.read_bytes() == OLD
    write_whole(path, NEW, keep_last=True, part=True)
    assert (path.read_bytes(), other.read_bytes(), last_good(path).read_bytes()) == (NEW, OLD, OLD)
    write_whole(path, OLD, keep_last=True)
    assert last_good(path).read_bytes() == NEW, "the one kept beside is no other name"
    assert path.stat().st_nlink == 1, "and folders without hard links do as well"


@pytest.mark.parametrize("name", ["a" * LONGEST_NAME, "ä" * 127, os.fsdecode(b"\xff\xfe" * 120), "ሴ" * 85])
def test_names_as_long_as_there_are_and_of_no_script(name: str, tmp_path: Path) -> None:
    path = tmp_path / name
    for content in (OLD, NEW):
        write_whole(path, content, keep_last=True)
    assert (path.read_bytes(), last_good(path).read_bytes()) == (NEW, OLD)
    assert sorted(p.name for p in tmp_path.iterdir()) == sorted([name, last_good(path).name])
    with pytest.raises(FailedWrite, match="too long"):
        write_whole(tmp_path / ("a" * 256), NEW)


@pytest.mark.parametrize("letter", ["a", "ß", "Ж", "皮", "🪡", "ﷺ"])
def test_a_job_of_200_letters_of_any_script_has_a_name(letter: str, tmp_path: Path) -> None:
    name = file_name(letter * 200)
    assert len(name.encode()) <= MOST_NAME
    longest = f"{name}-99999-other-face.pdf"
    write_whole(tmp_path / f"{name}{JOB_SUFFIX}", NEW)
    write_whole(tmp_path / longest, NEW)


def test_folders_are_synced_after_the_name_is_theirs(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Else a lost current may take the new name with it: in order the content, the name, the folder."""
    done: list[str] = []
    sync, replace = os.fsync, os.replace

    def fsync(handle: int) -> None:
        done.append("folder" if stat.S_ISDIR(os.fstat(handle).st_mode) else "content")
        sync(handle)

    def named(a: str, b: Path) -> None:
        done.append("name")
        replace(a, b)

    monkeypatch.setattr(os, "fsync", fsync)
    monkeypatch.setattr(os, "replace", named)
    write_whole(tmp_path / "a", NEW)
    assert done == ["content", "name", "folder"]


SAVING = """
import sys, itertools
from pathlib import Path
from vow_line.files.whole import write_whole
print("on", flush=True)
for k in itertools.count():
    write_whole(Path(sys.argv[1]), bytes([k % 256]) * 300_000, keep_last=True)
"""


def test_a_save_that_is_killed_leaves_the_file_whole_and_is_swept_up(tmp_path: Path) -> None:
    """Killed at any time; what it leaves is of one save, and so is the one kept beside."""
    path = tmp_path / "a"
    for k in range(5):
        saving = subprocess.Popen([sys.executable, "-c", SAVING, str(path)], stdout=subprocess.PIPE)
        assert saving.stdout is not None
        saving.stdout.readline()
        time.sleep(0.03 + 0.017 * k)
        saving.send_signal(signal.SIGKILL)
        saving.wait()
        saving.stdout.close()
        for kept in (path, last_good(path)):
            content = kept.read_bytes()
            assert len(content) == 300_000
            assert len(set(content)) == 1
    left = tmp_path / f"{PART}left"
    left.write_bytes(b"half")
    sweep([tmp_path, tmp_path / "none"])
    assert left.exists(), "it may be being written"
    for part in tmp_path.glob(f"{PART}*"):
        os.utime(part, (time.time() - STALE_S - 1,) * 2)
    sweep([tmp_path])
    assert {p.name for p in tmp_path.iterdir()} == {"a", "a~"}


@pytest.mark.parametrize("syncs", [0, 1])
def test_a_disk_that_fills_up_leaves_both_as_they_were(
    syncs: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Full at the new content, or at the copy of the old."""
    path = tmp_path / "a"
    for content in (OLD, NEW):
        write_whole(path, content, keep_last=True)
    sync, left = os.fsync, [syncs]

    def fsync(handle: int) -> None:
        if not left[0]:
            raise OSError(28, "No space left on device")
        left[0] -= 1
        sync(handle)

    monkeypatch.setattr(os, "fsync", fsync)
    with pytest.raises(FailedWrite, match="No space left"):
        write_whole(path, b"newer", keep_last=True)
    assert (path.read_bytes(), last_good(path).read_bytes()) == (NEW, OLD)
    assert {p.name for p in tmp_path.iterdir()} == {"a", "a~"}


def test_what_is_read_has_an_end(tmp_path: Path) -> None:
    path = tmp_path / "a"
    path.write_bytes(b"x" * 101)
    assert len(read_whole(path, 101)) == 101
    with pytest.raises(UnreadableFile, match="larger"):
        read_whole(path, 100)
