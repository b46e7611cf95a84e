"""Register allocation: a register that is no longer needed leaves its place in memory to
the next.
"""

import numpy as np

from kilncore.compiled.kernels import kernel

NO_REGISTER, UNSOUND = -1, -1


@kernel
def allocated(code: np.ndarray, registers: int, operations: int, descriptors: int, skip: int):
    """How many places it takes; UNSOUND if a line points outside its tables.

    code : a program's, of `registers` registers by number, which become places. The fewer there
    are, the nearer the memory they lie in. A register never takes the place of one that it is made
    from. operations, descriptors : how many there are. skip : the number of the one operation that
    says with which line to go on.
    """
    for i in range(code.shape[0]):
        if not (0 <= code[i, 0] < operations and 0 <= code[i, 7] < descriptors):
            return UNSOUND
        if code[i, 0] == skip and not i < code[i, 6] <= code.shape[0]:
            return UNSOUND
        for k in range(1, 6):
            if not NO_REGISTER <= code[i, k] < registers:
                return UNSOUND
    last, at, free = (
        np.empty(registers + 1, np.int64),
        np.full(registers + 1, NO_REGISTER),
        np.empty(registers + 1, np.int64),
    )
    for i in range(code.shape[0]):
        for k in range(1, 6):
            last[code[i, k]] = i
    count = waiting = 0
    for i in range(code.shape[0]):
        numbers = code[i, 1:6].copy()
        out = numbers[0]
        if out != NO_REGISTER and at[out] == NO_REGISTER:
            if waiting:
                waiting -= 1
                at[out] = free[waiting]
            else:
                at[out] = count
                count += 1
        for k in range(5):
            code[i, k + 1] = max(at[numbers[k]], 0) if numbers[k] != NO_REGISTER else 0
        for k in range(5):
            number = numbers[k]
            if number != NO_REGISTER and last[number] == i:
                last[number] = NO_REGISTER  # once is enough, should it be read twice here
                free[waiting] = at[number]
                waiting += 1
    return max(count, 1)
