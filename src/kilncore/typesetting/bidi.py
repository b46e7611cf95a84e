"""Which way text runs: embedding levels of characters, and the order of runs on a line.

Source: Unicode Standard Annex 9, by the functions of python-bidi; reordering is its rule L2.
Isolates (U+2066 to U+2069), which that package does not know, are taken out first.
"""

import unicodedata
from collections.abc import Sequence
from typing import TypeVar

from bidi import algorithm

ISOLATES = frozenset("\u2066\u2067\u2068\u2069")
RIGHT_TO_LEFT = ("R", "AL", "RLE", "RLO", "AN")
T = TypeVar("T")


def levels(text: str) -> list[int | None]:
    """The level of each character of one line: even from left to right, odd from right to left;
    None of one that only directs others.
    """
    by_character: list[int | None] = [None] * len(text)
    kept = [n for n, char in enumerate(text) if char not in ISOLATES]
    if not any(unicodedata.bidirectional(text[n]) in RIGHT_TO_LEFT for n in kept):
        return [0 if char not in ISOLATES else None for char in text]
    plain = "".join(text[n] for n in kept)
    base = algorithm.get_base_level(plain)
    storage = {**algorithm.get_empty_storage(), "base_level": base, "base_dir": "LR"[base]}
    algorithm.get_embedding_levels(plain, storage)
    for number, char in zip(kept, storage["chars"], strict=True):
        char["index"] = number
    algorithm.explicit_embed_and_overrides(storage)
    algorithm.resolve_weak_types(storage)
    algorithm.resolve_neutral_types(storage, False)
    algorithm.resolve_implicit_levels(storage, False)
    for char in storage["chars"]:
        by_character[char["index"]] = char["level"]
    return by_character


def reordered(runs: Sequence[T], level_of: Sequence[int]) -> list[T]:
    """Runs from left to right, as they stand on the line (rule L2)."""
    order = list(range(len(runs)))
    odd = [level for level in level_of if level % 2]
    for level in range(max(level_of, default=0), (min(odd) if odd else 1) - 1, -1):
        start = 0
        while start < len(order):
            end = start
            while end < len(order) and level_of[order[end]] >= level:
                end += 1
            order[start:end] = reversed(order[start:end])
            start = end + 1
    return [runs[number] for number in order]
