"""One budget for all that is kept, and what is waited for by several at once."""

import subprocess
import sys
import threading

import numpy as np
import pytest

from kilncore.compiled.program import Program
from kilncore.engine import pool
from kilncore.errors import Superseded
from kilncore.geometry.box import Box
from kilncore.system import budget
from kilncore.system.cache import OVERSIZED_BYTES, ByteCache

BOX = Box(0, 0, 40, 30)


def test_all_shares_are_one_budget():
    assert sum(budget.SHARES.values()) == pytest.approx(1)
    code = (
        "from kilncore.assets import AssetStore; from pathlib import Path;"
        "from kilncore.system.cache import ByteCache; from kilncore.system.budget import TOTAL;"
        "import kilncore.engine, kilncore.typesetting.fonts; store = AssetStore(Path('/none'));"
        "print(TOTAL, sum(cache.budget for cache in ByteCache.every))"
    )
    told = subprocess.run(
        [sys.executable, "-c", code],
        env={"KILN_MEMORY_MB": "8192", "PYTHONPATH": ":".join(sys.path)},
        capture_output=True,
        text=True,
        check=True,
    )
    total, together = map(int, told.stdout.split())
    assert total == 8192 * 2**20 // 10 and 0.8 * total < together <= total


def test_of_very_large_values_the_last_alone_is_kept():
    cache, half = ByteCache(100), np.empty(OVERSIZED_BYTES // 2 + 1, np.uint8)
    for name in "abc":
        cache.get(name, lambda: half)
    assert [name in cache for name in "abc"] == [False, False, True]


def test_a_program_that_has_run_holds_nothing_and_runs_no_more():
    given = np.ones((1, 30, 40), np.float32)
    program = Program(BOX)
    out = program.planes((program.load(given)[0] * 2,))
    program.run()
    assert out.min() == out.max() == 2
    assert not program._alive and not program.drawn
    with pytest.raises(ValueError, match="has run"):
        program.run()
    with pytest.raises(ValueError, match="has run"):
        program.load(given)


def test_several_are_waited_for_at_once():
    """Each waits until another is waited for, too: one after the other they never would be."""
    both = threading.Barrier(2, timeout=20)
    pool.waited_for(lambda _: both.wait(), [1, 2])
    done = []
    pool.waited_for(done.append, list(range(9)))
    assert sorted(done) == list(range(9))


def test_the_first_error_ends_the_waiting():
    def wait(number: int) -> None:
        done.append(number)
        raise Superseded

    done: list[int] = []
    with pytest.raises(Superseded):
        pool.waited_for(wait, list(range(50)))
    assert len(done) <= 2
    pool.waited_for(wait, [])
