"""A program in words: a line for each operation, as `r5 = multiply r1 r2`."""

from kilncore.compiled.operation import OPERATIONS


def listing(code: list[int], numbers: list[float]) -> str:
    """code : eight numbers a line; numbers : four a line, as `lines.Lines` writes them."""
    return "\n".join(_line(number, code, numbers) for number in range(len(code) // 8))


def _line(number: int, all_code: list[int], all_numbers: list[float]) -> str:
    code = all_code[8 * number : 8 * number + 8]
    entry = OPERATIONS[list(OPERATIONS)[code[0]]]
    out = f"r{code[1]} = " if entry.makes else ""
    inputs = [f"r{register}" for register in code[2 : 2 + entry.inputs]]
    more = (
        [f"{value:g}" for value in all_numbers[4 * number : 4 * number + entry.numbers]]
        + [f"@{code[7]}"] * bool(entry.memory)
        + [f"to {code[6]}"] * bool(code[6])
    )
    return " ".join([f"{number:4} {out}{entry.name}", *inputs, *more])
