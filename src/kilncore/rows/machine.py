"""The one compiled function that runs a tape.

    code      (N, 8) int64: the part, the row it makes, up to four rows that it reads, one number more (a blend mode, or
              the line with which to go on), and its place in memory
    numbers   (N, 4) float32: what else the part is told
    places    (M, 8) int64: where values come from or go to, as `memory` describes them
"""

from dataclasses import dataclass

from kilncore.kernels import floats, integers, kernel
from kilncore.modes import blend
from kilncore.rows import memory, parts
from kilncore.white_noise import cells


@dataclass(frozen=True)
class Operation:
    """rows : how many it reads. numbers : how many more it is told. place : what its place in memory describes, if it has
    one: such a line is written by the tape alone, which has the array in its hands. makes : whether it makes a row."""

    rows: int = 0
    numbers: int = 0
    place: str = ""
    makes: bool = True


OPERATIONS = {
    "skip_if_blank": Operation(1, makes=False), "load": Operation(place="array"),
    "repeated8": Operation(0, 1, "array"), "repeated16": Operation(0, 1, "array"),
    "store": Operation(1, place="array", makes=False), "store_rgb": Operation(3, place="array", makes=False),
    "store_rgba": Operation(4, place="array", makes=False),
    "fill": Operation(0, 1), "copy": Operation(1), "multiply": Operation(2), "add": Operation(2), "subtract": Operation(2),
    "least": Operation(2), "most": Operation(2), "affine": Operation(1, 2), "held": Operation(1, 2), "levels": Operation(1, 2),
    "power": Operation(1, 1), "weighted": Operation(3, 3), "away": Operation(3, 3), "trapezoid": Operation(1, 4),
    "between": Operation(3), "shared": Operation(2, 2), "united": Operation(2), "added": Operation(4), "inverse": Operation(1),
    "chosen": Operation(4), "looked_up": Operation(1, 1, "table"), "ratio": Operation(2), "stretched": Operation(3),
    "clip_scale": Operation(4), "clipped": Operation(4), "blend": Operation(2), "cells": Operation(place="cells"),
    "clamp": Operation(2),
}
(SKIP_IF_BLANK, LOAD, REPEATED8, REPEATED16, STORE, STORE_RGB, STORE_RGBA, FILL, COPY, MULTIPLY, ADD,
 SUBTRACT, LEAST, MOST, AFFINE, HELD, LEVELS, POWER, WEIGHTED, AWAY, TRAPEZOID, BETWEEN, SHARED, UNITED,
 ADDED, INVERSE, CHOSEN, LOOKED_UP, RATIO, STRETCHED, CLIP_SCALE, CLIPPED, BLEND, CELLS, CLAMP) = range(len(OPERATIONS))

_load, _repeated8, _repeated16, _store, _store_rgb, _store_rgba = (
    memory.load, memory.repeated8, memory.repeated16, memory.store, memory.store_rgb, memory.store_rgba)
_fill, _copy, _blank, _multiply, _add, _subtract, _least, _most = (
    parts.fill, parts.copy, parts.blank, parts.multiply, parts.add, parts.subtract, parts.least, parts.most)
_affine, _held, _levels, _power, _weighted, _away, _trapezoid = (
    parts.affine, parts.held, parts.levels, parts.power, parts.weighted, parts.away, parts.trapezoid)
_between, _shared, _united, _added, _inverse, _chosen, _looked_up = (
    parts.between, parts.shared, parts.united, parts.added, parts.inverse, parts.chosen, parts.looked_up)
_ratio, _stretched, _clip_scale, _clipped, _clamp = parts.ratio, parts.stretched, parts.clip_scale, parts.clipped, parts.clamp


@kernel
def run(code, lines, numbers, places, registers, row_bytes, width, height, stretch):
    """All tables, and the rows themselves, `row_bytes` apart, by their addresses. stretch : how many pixels are worked on
    at once."""
    for y in range(height):
        for x0 in range(0, width, stretch):
            n, i = min(stretch, width - x0), 0
            while i < lines:
                line = integers(code + 64 * i)
                op, e = line[0], line[6]
                o, a, b = registers + line[1] * row_bytes, registers + line[2] * row_bytes, registers + line[3] * row_bytes
                c, d = registers + line[4] * row_bytes, registers + line[5] * row_bytes
                p, k = integers(places + 64 * line[7]), floats(numbers + 16 * i)
                i += 1
                if op == BLEND:
                    blend(e, o, a, b, n)
                elif op == BETWEEN:
                    _between(o, a, b, c, n)
                elif op == LOAD:
                    _load(o, p, x0, y, n)
                elif op == REPEATED8:
                    _repeated8(o, p, x0, y, n, k[0])
                elif op == REPEATED16:
                    _repeated16(o, p, x0, y, n, k[0])
                elif op == SKIP_IF_BLANK:
                    i = e if _blank(a, n) else i
                elif op == FILL:
                    _fill(o, k[0], n)
                elif op == COPY:
                    _copy(o, a, n)
                elif op == MULTIPLY:
                    _multiply(o, a, b, n)
                elif op == ADD:
                    _add(o, a, b, n)
                elif op == SUBTRACT:
                    _subtract(o, a, b, n)
                elif op == LEAST:
                    _least(o, a, b, n)
                elif op == MOST:
                    _most(o, a, b, n)
                elif op == AFFINE:
                    _affine(o, a, k[0], k[1], n)
                elif op == HELD:
                    _held(o, a, k[0], k[1], n)
                elif op == LEVELS:
                    _levels(o, a, k[0], k[1], n)
                elif op == POWER:
                    _power(o, a, k[0], n)
                elif op == WEIGHTED:
                    _weighted(o, a, b, c, k[0], k[1], k[2], n)
                elif op == AWAY:
                    _away(o, a, b, c, k[0], k[1], k[2], n)
                elif op == TRAPEZOID:
                    _trapezoid(o, a, k[0], k[1], k[2], k[3], n)
                elif op == SHARED:
                    _shared(o, a, b, k[0], k[1], n)
                elif op == UNITED:
                    _united(o, a, b, n)
                elif op == ADDED:
                    _added(o, a, b, c, d, n)
                elif op == INVERSE:
                    _inverse(o, a, n)
                elif op == CHOSEN:
                    _chosen(o, a, b, c, d, n)
                elif op == LOOKED_UP:
                    _looked_up(o, a, p[0], k[0], n)
                elif op == RATIO:
                    _ratio(o, a, b, n)
                elif op == STRETCHED:
                    _stretched(o, a, b, c, n)
                elif op == CLIP_SCALE:
                    _clip_scale(o, a, b, c, d, n)
                elif op == CLIPPED:
                    _clipped(o, a, b, c, d, n)
                elif op == CLAMP:
                    _clamp(o, a, b, n)
                elif op == CELLS:
                    cells(o, p, x0, y, n)
                elif op == STORE:
                    _store(a, p, x0, y, n)
                elif op == STORE_RGB:
                    _store_rgb(a, b, c, p, x0, y, n)
                elif op == STORE_RGBA:
                    _store_rgba(a, b, c, d, p, x0, y, n)
