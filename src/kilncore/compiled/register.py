"""A register of a program: one row of pixels, whose arithmetic writes more of the program."""

from typing import Any


class Register:
    """One row of pixels of a program. Arithmetic with registers and numbers writes more of the
    program.
    """

    __slots__ = ("program", "number")
    __array_ufunc__ = None  # NumPy's numbers leave arithmetic to the register

    def __init__(self, program: Any, number: int):
        self.program, self.number = program, number

    def _with(self, name: str, other: Any, slope: float, offset: float) -> "Register":
        if isinstance(other, Register):
            return self.program.op(name, self, other)
        return self.program.op("affine", self, numbers=(slope, offset))

    def __add__(self, other: Any):
        return self._with("add", other, 1, other)

    def __sub__(self, other: Any):
        return (
            self.program.op("subtract", self, other)
            if isinstance(other, Register)
            else self + -other
        )

    def __mul__(self, other: Any):
        return self._with("multiply", other, other, 0)

    def __rsub__(self, number: int):
        return self.program.op("affine", self, numbers=(-1, number))

    __radd__, __rmul__ = __add__, __mul__

    def clamped(self, slope: float = 1, offset: float = 0) -> "Register":
        """slope x + offset, clamped to 0..1."""
        return self.program.op("clamp", self, numbers=(slope, offset))
