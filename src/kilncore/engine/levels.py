"""Work in levels: what is made of nothing that is missing comes first, so that all of a level may
be done at once.
"""

from collections.abc import Callable
from typing import Any

from kilncore.geometry.box import Box

Part = tuple[Any, Box]  # a node, and a tile of it


def in_levels(wanted: list[Part], made_of: Callable[[Any, Box], list[Part]]) -> list[list[Part]]:
    """All that is wanted, with what it is made of, each once. made_of : what is missing of that.

    However long a stack is, nothing goes deep.
    """
    waiting, numbers = list(wanted), {}
    below: dict[tuple, list[Part]] = {}
    levels: list[list[Part]] = []
    while waiting:
        node, tile = waiting[-1]
        name = node.key, tile
        if name not in below:
            below[name] = made_of(node, tile)
            waiting += below[name]
            continue
        waiting.pop()
        if name not in numbers:
            numbers[name] = 1 + max(
                (numbers[one.key, part] for one, part in below[name]), default=-1
            )
            levels += [[] for _ in range(numbers[name] + 1 - len(levels))]
            levels[numbers[name]].append((node, tile))
    return levels
