"""One budget for all that is kept in memory. It follows the machine, and every cache has its share.

A tenth of what the process may use: beside it there is what Python and the libraries hold (about
320 MB), what is drawn at the moment, and what was freed and is not given back yet. Together they
stay under 2 GB of 8 GB, and under a quarter of more.
"""

from kilncore.system.hardware import MEMORY

TOTAL = max(512 * 2**20, MEMORY // 10)
SHARES = {
    "drawn": 0.44,  # tiles, what steps sample, values of whole items
    "textures": 0.17,  # as they were decoded, with their smaller copies
    "prepared": 0.17,  # the same, prepared for a use
    "stages": 0.05,  # of preparing them
    "counts": 0.02,  # how often tones occur on the way
    "fonts": 0.05,
    "documents": 0.05,  # as they were read from the database
    "pictures": 0.05,  # encoded, as browsers are given them
}
READINGS = 2**20  # of each sort of reading beside a step: numbers alone


def budget_of(what: str) -> int:
    """Bytes that may be kept of that, by its name in SHARES."""
    return int(SHARES[what] * TOTAL)
