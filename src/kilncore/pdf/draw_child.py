"""The child process that draws a block of a page: limited in memory, time and files.

It is drawn twice as large and averaged: PDFium's own edges are a little off, and art that is worn
shows it.
"""

from kilncore.system.sandbox import answer

FINER = 2


def block(request: dict, data: bytes) -> tuple[dict, bytes]:
    """(nothing, (height, width, 4) straight bytes of a block of a page)."""
    import numpy as np

    from kilncore.pdf.library import begin, drawn, opened, page_of

    begin()
    page = page_of(opened(data), request["page"])
    width, height = request["width"], request["height"]
    matrix = tuple(FINER * value for value in request["matrix"])
    pixels = drawn(page, matrix, FINER * width, FINER * height)
    fine = np.frombuffer(pixels, np.uint8).reshape(height, FINER, width, FINER, 4)
    out = np.empty((height, width, 4), np.uint8)
    for row in range(height):  # in rows: a block as floats would be a gigabyte
        some = fine[row].astype(np.float32)
        alpha = some[..., 3:].sum((0, 2))
        colour = (some[..., :3] * some[..., 3:]).sum((0, 2)) / np.maximum(alpha, 1e-6)
        out[row, :, :3] = np.rint(colour)
        out[row, :, 3:] = np.rint(alpha / FINER**2)
    return {}, out.tobytes()


if __name__ == "__main__":
    answer(block)
