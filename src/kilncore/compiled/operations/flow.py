"""Leaving out what is blank: the one operation that says with which line to go on."""

import numpy as np

from kilncore.compiled.kernels import floats, subroutine
from kilncore.compiled.operation import Address, operation

SKIP_IF_BLANK = "skip_if_blank"


@subroutine
def blank(a: Address, n: int):
    """Whether a register is 0 all over."""
    a = floats(a)
    there = 0
    for x in range(n):
        there += a[x] != np.float32(0)
    return there == 0


@operation(inputs=1, makes=False)
def skip_if_blank(a: int, n: int):
    """Go on with the line that is named, if the register is 0 all over. The dispatcher itself does
    it.
    """
