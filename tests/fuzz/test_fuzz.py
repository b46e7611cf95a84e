"""A little of `make fuzz`, with fixed seeds: 30 random documents, and a server that is killed a few
times.
"""

import subprocess
import sys

import pytest
from fuzz.__main__ import one_round
from fuzz.killing import run


@pytest.mark.parametrize("seed", [40])
def test_random_documents_are_drawn_and_hold(seed, tmp_path):
    drawn, trouble = one_round(seed, 15, tmp_path)
    assert not trouble and drawn == 15


def test_a_server_that_is_killed_loses_nothing_that_was_answered(tmp_path):
    assert run(4, 7, tmp_path / "data") == 4


def test_broken_fonts_are_set_or_refused():
    """A dozen of them; whatever is let in sets words within bounds."""
    command = [sys.executable, "-m", "fuzz.fonts", "3", "12"]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr[-2000:]
    assert len(done.stdout.splitlines()) == 12 and ": set" in done.stdout
