"""Settings for every test: no deadlines, the same generated input each time, nothing of the user's own folders."""

import os
from pathlib import Path

import pytest
from hypothesis import HealthCheck, Phase, settings

from tests.many import examples

settings.register_profile(
    "vow-line",
    deadline=None,
    derandomize=True,
    max_examples=examples(60),
    suppress_health_check=[HealthCheck.too_slow],
    phases=(Phase.explicit, Phase.generate),  # shrinking a whole job takes minutes; shrink by hand, with all phases
)
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("PYTEST_QT_API", "pyside6")
settings.load_profile("vow-line")


@pytest.fixture(autouse=True)
def _own_folders(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("VOW_LINE_HOME", str(tmp_path / "home"))
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
