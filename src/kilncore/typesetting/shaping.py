"""Shaping a line of text: which glyphs, and where, by HarfBuzz."""

from dataclasses import dataclass

import uharfbuzz as hb

from kilncore.typesetting.fonts import Face


@dataclass(frozen=True)
class Line:
    """glyphs : (id, x, y), in ems from the line's start. starts : the x of each of its
    characters.
    """

    glyphs: list
    width: float
    starts: list


def shaped(text: str, used: Face, tracking: float) -> Line:
    """A line; its width is without the last letter's tracking, which is in ems."""
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    # spaced letters are not joined: common practice, and CSS Text says the same of letter-spacing
    hb.shape(used.font, buffer, {"liga": tracking == 0, "clig": tracking == 0})
    glyphs, x, starts = [], 0.0, [None] * len(text)
    for info, position in zip(buffer.glyph_infos or [], buffer.glyph_positions or [], strict=True):
        if info.cluster < len(starts) and starts[info.cluster] is None:
            starts[info.cluster] = x
        glyphs.append(
            (info.codepoint, x + position.x_offset / used.units, position.y_offset / used.units)
        )
        x += position.x_advance / used.units + tracking
    return Line(glyphs, max(x - tracking, 0) if glyphs else 0, _filled(starts))


def _filled(starts: list) -> list:
    """The starts of all characters: those that are drawn together with the one before stand where
    that does.
    """
    last = 0.0
    for number, start in enumerate(starts):
        last = starts[number] = last if start is None else start
    return starts
