"""Bringing an artwork in: told by its content, read in a limited child, refused in words or sure to
be drawn.

An SVG is made safe, weighed and drawn once for trial. What passes can be drawn: what a block costs
depends on how many pixels it has, not on how far the drawing is enlarged. The largest block has 64
times the trial's pixels, and its child is given as many times longer (`svg.rasterising.LIMITS`). A
picture is decoded to its end, and stays as it came.
"""

import threading
from dataclasses import dataclass, field

from kilncore.errors import UnusableFile
from kilncore.pdf.pages import pages_of
from kilncore.pixels.reading import FORMATS, MAX_BYTES, NO_ROOM, is_picture, too_large
from kilncore.svg.parsing import MAX_BYTES as MAX_SVG_BYTES
from kilncore.svg.parsing import TOO_LARGE
from kilncore.system.sandbox import Limits, run

SVG_LIMITS = Limits(memory=500 * 2**20, cpu=2, wall=20)  # a busy machine is slow by the clock
PICTURE_LIMITS = Limits(memory=2_500 * 2**20, cpu=60, wall=90)
TURNS = threading.BoundedSemaphore(2)
TOO_MUCH = (
    "This SVG takes too long to read or too much memory to draw. Simplify it, or bring "
    "it in as a picture."
)
LEAST_BYTES = 8
PDF_BEGINS = b"%PDF-"
SVG_BEGINS = (b"<", b"\xef\xbb\xbf<", b"\x1f\x8b", b"\xff\xfe<", b"\xfe\xff")


@dataclass(frozen=True)
class BroughtIn:
    """kind : of its art. data : the file to keep. notes : what was left out or
    replaced, in words. facts : what its sheet needs to know of it: colours with their shares,
    paints, groups, a plain background, what was left out.
    """

    kind: str
    data: bytes
    width: float
    height: float
    notes: tuple[str, ...] = ()
    facts: dict = field(default_factory=dict)


def brought_in(data: bytes) -> BroughtIn:
    """What a file from outside is, safe and sure to be drawn; told by a limited child.

    Parameters
    ----------
    data : bytes
        A drawing (SVG, SVGZ), a PDF or a picture.

    Returns
    -------
    BroughtIn
        What is kept of it, and its facts.

    Raises
    ------
    UnusableFile
        With the reason, if it is neither drawing nor picture.
    """
    if is_picture(data):
        return _picture(data)
    if PDF_BEGINS in data[:1024]:
        return _pdf(data)
    if data[:2048].lstrip().startswith(SVG_BEGINS):
        return _drawing(data)
    if len(data) < LEAST_BYTES:
        raise UnusableFile("This file is empty.")
    raise UnusableFile(
        f"This is neither an SVG, a PDF nor a {FORMATS} picture. Save it as one of these and bring "
        "it in again."
    )


def _drawing(data: bytes) -> BroughtIn:
    if len(data) > MAX_SVG_BYTES:
        raise UnusableFile(TOO_LARGE)
    answer, answer_bytes = run("kilncore.svg.intake_child", SVG_LIMITS, {}, data, TOO_MUCH, TURNS)
    clean = answer_bytes[answer["pixels"] :]
    notes = tuple(answer["fonts"])
    if answer["left_out"]:
        notes = (f"left out of the SVG: {', '.join(answer['left_out'])}", *notes)
    facts = answer.get("facts") or _made_of({"pixels": answer["pixels"]}, answer_bytes)
    facts = {**facts, "notes": list(notes)} if notes else facts
    return BroughtIn("vector", clean, answer["width"], answer["height"], notes, facts)


def _made_of(request: dict, clean: bytes) -> dict:
    """What its sheet shows of a drawing; nothing, if that takes too much."""
    try:
        return run("kilncore.svg.looking_child", SVG_LIMITS, request, clean, TOO_MUCH, TURNS)[0]
    except UnusableFile:
        return {}


def _pdf(data: bytes) -> BroughtIn:
    """Its first page; another is chosen on the bench."""
    pages = pages_of(data)
    (width, height, _), more = pages.sizes[0], pages.count - len(pages.sizes)
    notes = (f"only its first {len(pages.sizes)} pages can be chosen",) if more else ()
    facts = {"pages": [list(size) for size in pages.sizes]}
    return BroughtIn("page", data, width, height, notes, facts)


def _picture(data: bytes) -> BroughtIn:
    if len(data) > MAX_BYTES:
        raise UnusableFile(too_large())
    answer, _ = run("kilncore.measure.picture_child", PICTURE_LIMITS, {}, data, NO_ROOM)
    facts = {name: answer[name] for name in ("colours", "plain", "perhaps", "holes", "opaque")}
    return BroughtIn("picture", data, answer["width"], answer["height"], (), facts)
