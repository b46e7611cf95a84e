"""Colours in plain words."""

import pytest

from kilncore.pixels.colour_words import colour_words, lightness_chroma_hue


@pytest.mark.parametrize(
    "words, colours",
    [  # CSS Color Module Level 4, named colours: navy, blue, midnightblue; green, lime; ...
        ("dark blue", ("#000080", "#191970")),
        ("blue", ("#0000ff", "#4169e1")),
        ("green", ("#008000", "#00ff00", "#32cd32")),
        ("dark green", ("#006400",)),
        ("red", ("#ff0000", "#dc143c")),
        ("dark red", ("#800000",)),
        ("orange", ("#ffa500", "#d2691e")),
        ("yellow", ("#ffff00", "#ffd700")),
        ("olive", ("#808000",)),
        ("teal", ("#008080",)),
        ("violet", ("#ff00ff", "#ee82ee", "#9370db")),
        ("pink", ("#ff69b4",)),
        ("pale pink", ("#ffc0cb",)),
        ("brown", ("#8b4513", "#a0522d")),
        ("beige", ("#d2b48c",)),
        ("cream", ("#fff8dc", "#faebd7")),
        ("grey", ("#808080", "#696969")),
        ("pale grey", ("#c0c0c0", "#d3d3d3")),
        ("black", ("#000000",)),
        ("white", ("#ffffff", "#fffafa", "#f5f5f5")),
    ],
)
def test_css_named_colours(words, colours):
    assert [colour_words(one) for one in colours] == [words] * len(colours)


def test_oklab_against_published_values():
    """CSS Color Module Level 4, oklch of the sRGB primaries (from memory)."""
    for colour, wanted in (
        ("#ff0000", (0.628, 0.258, 29.23)),
        ("#00ff00", (0.866, 0.295, 142.5)),
        ("#0000ff", (0.452, 0.313, 264.05)),
    ):
        found = lightness_chroma_hue(colour)
        assert found[:2] == pytest.approx(wanted[:2], abs=0.001)
        assert found[2] == pytest.approx(wanted[2], abs=0.05)
    assert lightness_chroma_hue("#ffffff")[:2] == pytest.approx((1, 0), abs=1e-3)
