"""A little of `make fuzz`, with fixed seeds: a few random documents, and a server that is killed
twice.
"""

import subprocess
import sys

import pytest
from fuzz.__main__ import one_round
from fuzz.killing import run

pytestmark = pytest.mark.long
FEW = 5


@pytest.mark.parametrize("seed", [43])
def test_random_documents_are_drawn_and_hold(seed, tmp_path):
    drawn, trouble = one_round(seed, FEW, tmp_path, "small")
    assert not trouble and drawn == FEW


def test_a_server_that_is_killed_loses_nothing_that_was_answered(tmp_path):
    assert run(2, 7, tmp_path / "data") == 2


def test_broken_fonts_are_set_or_refused():
    """A few of them; whatever is let in sets words within bounds."""
    command = [sys.executable, "-m", "fuzz.fonts", "3", "6"]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    assert len(done.stdout.splitlines()) == 6 and ": set" in done.stdout
