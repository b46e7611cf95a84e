"""What holds a landing, as its closed line says it."""

import pytest

from kilncore.landing.model import BlendRange, Fade
from kilnmark.bench.holding.in_words import fade_words, range_numbers, range_words
from tests.documents import px


@pytest.mark.parametrize(
    "fields, words, numbers",
    [
        (
            {"of": "beneath", "shown_to": 0.3, "hidden_above": 0.4},
            "only in the darks of the surface",
            "up to 76",
        ),
        (
            {"of": "own", "hidden_below": 0.2, "shown_from": 0.4},
            "only in the lights it lays on",
            "from 102",
        ),
        (
            {
                "of": "input",
                "hidden_below": 0.1,
                "shown_from": 0.2,
                "shown_to": 0.6,
                "hidden_above": 0.8,
            },
            "only in the middle tones of the art",
            "51 to 153",
        ),
        (
            {"of": "beneath", "shown_to": 0.3, "hidden_above": 0.4, "outside": True},
            "not in the darks of the surface",
            "all but up to 76",
        ),
        (
            {"of": "own", "shown_from": 0.4, "reads": "red"},
            "only where the red it lays on is strong",
            "red from 102",
        ),
        ({"of": "own"}, "in all tones", "0 to 255"),
    ],
)
def test_ranges(fields, words, numbers):
    found = BlendRange(**fields)
    assert (range_words(found), range_numbers(found)) == (words, numbers)


@pytest.mark.parametrize(
    "shape, ends, strengths, words",
    [
        ("straight", (0, 0, 0, 90), (1, 0), "fading down"),
        ("straight", (0, 0, 0, 90), (0, 1), "fading up"),
        ("straight", (90, 5, 0, 0), (1, 0.2), "fading left"),
        ("straight", (0, 0, 80, 20), (1, 0), "fading right"),
        ("round", (0, 0, 0, 90), (1, 0), "fading outwards"),
        ("round", (0, 0, 0, 90), (0, 1), "fading inwards"),
        ("sweep", (0, 0, 0, 90), (1, 0), "fading round"),
        ("straight", (0, 0, 0, 90), (0.5, 0.5), "50 % all over"),
    ],
)
def test_fades(shape, ends, strengths, words):
    places = dict(zip(("x0", "y0", "x1", "y1"), map(px, ends), strict=True))
    fade = Fade(shape=shape, start=strengths[0], end=strengths[1], **places)
    assert fade_words(fade, lambda length: length.value) == words
