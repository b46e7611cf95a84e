"""What an operation of a program is, and how one is added.

An operation is a loop over `n` pixels of float32 registers, which it is given by their addresses.
Its arguments are, in this order and as far as its table entry says that it has them:

    out           the register that it makes
    a, b, c, d    the registers that it reads
    descriptor    eight int64 that say where in memory its values lie, or other whole numbers that
                  it needs
    x0, y         where the stretch begins within the program's box
    numbers       float32 constants
    n             how many pixels

`@operation` puts it into OPERATIONS. From that table the interpreter's dispatcher is made
(`interpreter`), and programs are checked against it (`program`): nothing else has to be told of a
new operation. The modules of operations are listed in `operations/__init__.py`.

A result never lies where an input does, or the loop would not be vectorised. The flags of
`kernels.FASTMATH` keep a pixel the same wherever the loop begins. Whatever is clamped becomes the
lower bound where a value is not a number.
"""

import inspect
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from kilncore.compiled.kernels import subroutine

Address = Any  # of a register: a number, then what is viewed there (`kernels.floats`)
MOST_INPUTS, MOST_NUMBERS = 4, 4
INPUTS = "abcd"


@dataclass(frozen=True)
class Operation:
    """One entry of the table.

    loop : the compiled loop. inputs : how many registers it reads, 0..4. numbers : how many
    constants it takes, 0..4. memory : what its descriptor is about, as a word for errors; empty if
    it has none. Such an operation is written by the methods of `Program` that know the array, never
    by name. positioned : whether it is told where the stretch begins. makes : whether it makes a
    register.
    """

    name: str
    loop: Callable
    inputs: int = 0
    numbers: int = 0
    memory: str = ""
    positioned: bool = False
    makes: bool = True

    @property
    def call(self) -> str:
        """The arguments of its loop, as the dispatcher names them."""
        arguments = (
            ["out"] * self.makes + list(INPUTS[: self.inputs]) + ["descriptor"] * bool(self.memory)
        )
        arguments += ["x0", "y"] * self.positioned + [f"number[{i}]" for i in range(self.numbers)]
        return ", ".join([*arguments, "n"])


OPERATIONS: dict[str, Operation] = {}


def operation(name: str = "", **facts: Any) -> Callable:
    """Register a loop as an operation of that name, or of its own. facts : as `Operation`.

    Raises ValueError for a name that is taken, or a loop whose arguments are not those that the
    facts say.
    """

    def register(loop: Callable) -> Callable:
        entry = Operation(name or loop.__name__, subroutine(loop), **facts)
        arguments = len(entry.call.split(", "))
        if entry.name in OPERATIONS or len(inspect.signature(loop).parameters) != arguments:
            raise ValueError(
                f"operation {entry.name!r} is there already, or does not take {arguments} arguments"
            )
        if entry.inputs > MOST_INPUTS or entry.numbers > MOST_NUMBERS:
            raise ValueError(f"operation {entry.name!r} takes more than a line has room for")
        OPERATIONS[entry.name] = entry
        return entry.loop

    return register
