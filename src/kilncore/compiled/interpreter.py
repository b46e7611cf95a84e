"""The one compiled function that runs a program. Its dispatcher is made from the table of
operations.

code          (N, 8) int64: the operation, the register it makes, up to four registers that it
reads, the line with which
              to go on (of `skip_if_blank` alone), and its descriptor
numbers       (N, 4) float32: constants
descriptors   (M, 8) int64: where values come from or go to, as each operation that has one says
"""

from kilncore.compiled.kernels import floats, integers, kernel
from kilncore.compiled.operation import OPERATIONS
from kilncore.compiled.operations.flow import SKIP_IF_BLANK, blank

SOURCE = '''
def run(code, lines, numbers, descriptors, registers, row_bytes, width, height, stretch):
    """All tables, and the registers, `row_bytes` apart, by their addresses. stretch : how many
    pixels are worked on at once.
    """
    for y in range(height):
        for x0 in range(0, width, stretch):
            n, i = min(stretch, width - x0), 0
            while i < lines:
                line = integers(code + 64 * i)
                op = line[0]
                out, a = registers + line[1] * row_bytes, registers + line[2] * row_bytes
                b = registers + line[3] * row_bytes
                c, d = registers + line[4] * row_bytes, registers + line[5] * row_bytes
                descriptor, number = integers(descriptors + 64 * line[7]), floats(numbers + 16 * i)
                i += 1
                if op == {skip}:
                    i = line[6] if blank(a, n) else i
{branches}
'''
BRANCH = "                elif op == {number}:\n                    op_{name}({call})"


def dispatcher_source() -> str:
    """The source of `run`: a branch for each operation of the table."""
    names = list(OPERATIONS)
    branches = [
        BRANCH.format(number=number, name=name, call=OPERATIONS[name].call)
        for number, name in enumerate(names)
        if name != SKIP_IF_BLANK
    ]
    return SOURCE.format(skip=names.index(SKIP_IF_BLANK), branches="\n".join(branches))


def _made():
    known = {f"op_{name}": entry.loop for name, entry in OPERATIONS.items()}
    namespace = {
        "__name__": __name__,
        "integers": integers,
        "floats": floats,
        **known,
        "blank": blank,
    }
    exec(compile(dispatcher_source(), __file__, "exec"), namespace)  # noqa: S102  made from the table alone
    return kernel(namespace["run"])


run = _made()
