"""The child process that tells what pages a PDF has: limited in memory, time and files."""

from kilncore.errors import UnusableFile
from kilncore.system.sandbox import answer

MOST_PAGES = 500
PPI, LARGEST_PX = 300, 20_000
TRIAL_PX = 200


def told(request: dict, data: bytes) -> tuple[dict, bytes]:
    """(its pages' sizes in px and how many there are, nothing); the first is drawn for trial."""
    from kilncore.pdf.library import begin, count_of, drawn, opened, page_of, size_of

    begin()
    document = opened(data)
    count = count_of(document)
    if count < 1:
        raise UnusableFile("This PDF has no pages.")
    pages = [_px(*size_of(document, number)) for number in range(min(count, MOST_PAGES))]
    width, height, scale = pages[0]
    small = min(TRIAL_PX / max(width, height), 1.0)
    sides = (max(1, round(side * small)) for side in (width, height))
    drawn(page_of(document, 0), (scale * small, 0, 0, scale * small, 0, 0), *sides)
    return {"pages": pages, "count": count}, b""


def _px(width: float, height: float) -> tuple[float, float, float]:
    """(width, height, px to a point) of a page as it is printed at 300 ppi; no larger than a piece
    may be.
    """
    wide, tall = max(width, 0.01), max(height, 0.01)
    scale = min(PPI / 72, LARGEST_PX / max(wide, tall))
    return round(wide * scale, 3), round(tall * scale, 3), scale


if __name__ == "__main__":
    answer(told)
