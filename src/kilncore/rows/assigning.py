"""Giving the rows of a tape their places: a row that is no longer needed leaves its own to the next."""

import numpy as np

from kilncore.kernels import kernel

NO_ROW, UNSOUND = -1, -1
SKIP = 0  # the number of `skip_if_blank`, the one operation that says with which line to go on


@kernel
def assigned(code, rows, operations, places):
    """How many places it takes; UNSOUND if a line points outside its tables. code : a tape's, of `rows` rows by number,
    which become places. The fewer there are, the nearer the memory they lie in. A row never takes the place of one that
    it is made from. operations, places : how many there are."""
    for i in range(code.shape[0]):
        if not (0 <= code[i, 0] < operations and 0 <= code[i, 7] < places):
            return UNSOUND
        if code[i, 0] == SKIP and not i < code[i, 6] <= code.shape[0]:
            return UNSOUND
        for k in range(1, 6):
            if not NO_ROW <= code[i, k] < rows:
                return UNSOUND
    last, at, free = np.empty(rows + 1, np.int64), np.full(rows + 1, NO_ROW), np.empty(rows + 1, np.int64)
    for i in range(code.shape[0]):
        for k in range(1, 6):
            last[code[i, k]] = i
    count = waiting = 0
    for i in range(code.shape[0]):
        numbers = code[i, 1:6].copy()
        out = numbers[0]
        if out != NO_ROW and at[out] == NO_ROW:
            if waiting:
                waiting -= 1
                at[out] = free[waiting]
            else:
                at[out] = count
                count += 1
        for k in range(5):
            code[i, k + 1] = max(at[numbers[k]], 0) if numbers[k] != NO_ROW else 0
        for k in range(5):
            number = numbers[k]
            if number != NO_ROW and last[number] == i:
                last[number] = NO_ROW  # once is enough, should it be read twice here
                free[waiting] = at[number]
                waiting += 1
    return max(count, 1)
