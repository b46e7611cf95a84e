"""The pages of a PDF, and drawing one: each in a child process that is limited in memory and time.

PDFium is no library for several threads, and a file may take it all of its time: each call has a
child of its own, and a file that takes too long is stopped and refused, while others go on.
"""

import threading
from dataclasses import dataclass

import numpy as np

from kilncore.errors import UnusableFile
from kilncore.system.sandbox import Limits, run

LIMITS = Limits(memory=2**30, cpu=30, wall=40)
TURNS = threading.BoundedSemaphore(2)
MAX_BYTES = 100 * 2**20
TOO_LARGE = "This PDF is larger than 100 MB. Save it smaller, or with one page alone."
TOO_MUCH = (
    "This PDF takes too long to draw, or too much memory. Save the page by itself, or bring it in "
    "as a picture."
)
EMPTY = "This PDF is empty."
LEAST_BYTES = 64


@dataclass(frozen=True)
class Pages:
    """sizes : (width, height, px to a point) of each page, px at 300 ppi; of the first 500. count :
    of all.
    """

    sizes: tuple[tuple[float, float, float], ...]
    count: int


def pages_of(data: bytes) -> Pages:
    """The pages of a PDF; UnusableFile, with the reason, if it cannot be drawn."""
    if len(data) > MAX_BYTES:
        raise UnusableFile(TOO_LARGE)
    if len(data) < LEAST_BYTES:
        raise UnusableFile(EMPTY)
    answer, _ = run("kilncore.pdf.intake_child", LIMITS, {}, data, TOO_MUCH, TURNS)
    return Pages(tuple(map(tuple, answer["pages"])), answer["count"])


def page_drawn(
    data: bytes,
    page: int,
    matrix: tuple[float, ...],
    width: int,
    height: int,
) -> np.ndarray:
    """(height, width, 4) uint8, straight: a part of a page on nothing.

    Parameters
    ----------
    data : bytes
        The PDF.
    page : int
        From 0.
    matrix : six floats
        From points of the page, from its upper left corner, y downward, to px.
    width, height : int
        Of the part.

    Raises
    ------
    UnusableFile
        If it takes too long or too much memory, or there is no such page.
    """
    request = {"page": page, "matrix": matrix, "width": width, "height": height}
    _, pixels = run("kilncore.pdf.draw_child", LIMITS, request, data, TOO_MUCH, TURNS)
    if len(pixels) != width * height * 4:
        raise UnusableFile(TOO_MUCH)
    return np.frombuffer(pixels, np.uint8).reshape(height, width, 4)
