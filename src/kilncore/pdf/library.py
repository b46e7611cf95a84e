"""PDFium, as a child process uses it; what it is given by address is handled here and nowhere else.

It looks for fonts in the folder of those that ship, and nowhere else.
"""

import ctypes
from pathlib import Path
from typing import Any

import pypdfium2_raw as pdfium

from kilncore.errors import UnusableFile

FONTS = Path(__file__).parents[1] / "fonts"
LOCKED = "This PDF is locked by a password. Save it without one and bring it in again."
DAMAGED = "This PDF is damaged: it cannot be read. Save it again where it was made."
PASSWORD = 4  # of PDFium's errors
_KEPT: list[Any] = []  # what PDFium holds on to


def begin() -> None:
    """Once in a process."""
    folders = (ctypes.c_char_p * 2)(str(FONTS).encode(), None)
    config = pdfium.FPDF_LIBRARY_CONFIG()
    config.version = 2
    config.m_pUserFontPaths = ctypes.cast(folders, type(config.m_pUserFontPaths))
    _KEPT.extend((folders, config))
    pdfium.FPDF_InitLibraryWithConfig(ctypes.byref(config))


def opened(data: bytes) -> Any:
    """A document; UnusableFile if it cannot be read."""
    kept = ctypes.create_string_buffer(data, len(data))
    _KEPT.append(kept)
    document = pdfium.FPDF_LoadMemDocument64(kept, len(data), None)
    if not document:
        locked = pdfium.FPDF_GetLastError() == PASSWORD
        raise UnusableFile(LOCKED if locked else DAMAGED)
    return document


def count_of(document: Any) -> int:
    """How many pages it has."""
    return pdfium.FPDF_GetPageCount(document)


def size_of(document: Any, number: int) -> tuple[float, float]:
    """Of a page, in points; UnusableFile if it has none."""
    size = pdfium.FS_SIZEF()
    if not pdfium.FPDF_GetPageSizeByIndexF(document, number, ctypes.byref(size)):
        raise UnusableFile(DAMAGED)
    return size.width, size.height


def page_of(document: Any, number: int) -> Any:
    """One of its pages; UnusableFile if it is not there."""
    page = pdfium.FPDF_LoadPage(document, number)
    if not page:
        raise UnusableFile(DAMAGED)
    return page


def drawn(page: Any, matrix: tuple[float, ...], width: int, height: int) -> bytes:
    """(height, width, 4) straight bytes of a page on nothing. matrix : from its own points, from
    its upper left corner, y downward.
    """
    bitmap = pdfium.FPDFBitmap_CreateEx(width, height, pdfium.FPDFBitmap_BGRA, None, width * 4)
    if not bitmap:
        raise MemoryError
    pdfium.FPDFBitmap_FillRect(bitmap, 0, 0, width, height, 0)
    placed = pdfium.FS_MATRIX(*matrix)
    clip = pdfium.FS_RECTF(0, 0, width, height)
    flags = pdfium.FPDF_REVERSE_BYTE_ORDER
    pdfium.FPDF_RenderPageBitmapWithMatrix(
        bitmap, page, ctypes.byref(placed), ctypes.byref(clip), flags
    )
    first = pdfium.FPDFBitmap_GetBuffer(bitmap)
    found = ctypes.string_at(first, width * height * 4)
    pdfium.FPDFBitmap_Destroy(bitmap)
    return found
