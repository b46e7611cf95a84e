"""Windows from all over a box, in which there are enough pixels to tell tones by."""

import math

from kilncore.geometry.box import Box, tiles_over

WINDOW_PX, SAMPLED_PIXELS = 72, 500_000
GRID = (640, 400)  # px: of the tiles in which what is small is read whole


def windows(whole: Box, enough: int = SAMPLED_PIXELS, side: int = WINDOW_PX) -> list[Box]:
    """Windows spread evenly over a box, in which there are enough pixels to tell tones by; all of a
    small one, in rows of windows.
    """
    pixels = whole.width * whole.height
    apart = math.sqrt(max(pixels / enough, 1)) * side
    across, down = (max(1, round(n / apart)) for n in (whole.width, whole.height))
    if pixels <= enough:
        return [
            tile.moved(whole.left, whole.top).intersection(whole)
            for tile in tiles_over(whole.moved(-whole.left, -whole.top), GRID)
        ]
    boxes, half = [], side // 2
    for row in range(down):
        for column in range(across):
            left = whole.left + round((column + 0.5) * whole.width / across)
            top = whole.top + round((row + 0.5) * whole.height / down)
            boxes.append(Box(left - half, top - half, left + half, top + half).intersection(whole))
    return [one for one in boxes if not one.empty]
