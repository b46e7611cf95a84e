"""Words as they are set: advances, kerning, directions, features, axes, faces that stand in.

Sources: HarfBuzz's own shaping of the same run; python-bidi's visual order (UAX 9); fontTools'
reading of feature lists and its instancer of variable fonts.
"""

import numpy as np
import pytest
import uharfbuzz as hb
from bidi.algorithm import get_display
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont
from pydantic import ValidationError

from kilncore.artwork.coverage import coverage
from kilncore.artwork.lettering import Lettering
from kilncore.document import dump, load
from kilncore.edits import apply
from kilncore.errors import KilnError
from kilncore.model.units import px
from kilncore.typesetting.bidi import levels, reordered
from kilncore.typesetting.features import offered
from kilncore.typesetting.fonts import face
from kilncore.typesetting.outline import edges_of
from kilncore.typesetting.shaping import Setting, shaped
from kilncore.typesetting.shipped import FONTS, SHIPPED
from tests.documents import lettering, mark, piece

PATHS = {one.name: one.path for one in SHIPPED}
HEBREW, ARABIC = "מעבורת", "عبارة"


def by_harfbuzz(text, name, features=None):
    """[(glyph, x)] and the width, in font units."""
    font = hb.Font(hb.Face(hb.Blob(PATHS[name].read_bytes())))
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(font, buffer, features or {})
    x, found = 0, []
    for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        found.append((info.codepoint, x + position.x_offset))
        x += position.x_advance
    return found, x, font.face.upem


@pytest.mark.parametrize("name", FONTS)
@pytest.mark.parametrize("text", ["AVATAR Type", "office fjord", "1,024 & To."])
def test_advances_and_kerning_are_harfbuzzs_own(name, text):
    found, width, units = by_harfbuzz(text, name)
    line = shaped(text, Setting(name))
    assert line.width * units == pytest.approx(width, abs=1e-6)
    assert [(g.id, pytest.approx(g.x * units, abs=1e-6)) for g in line.glyphs] == found


def test_without_kerning_letters_stand_by_their_advances():
    _, kerned, _ = by_harfbuzz("AV", "josefin-sans-bold")
    _, plain, units = by_harfbuzz("AV", "josefin-sans-bold", {"kern": False})
    assert shaped("AV", Setting("josefin-sans-bold", kerning=False)).width * units == plain > kerned


@pytest.mark.parametrize(
    "text",
    [
        f"{HEBREW} 417",
        f"CABIN 12 {HEBREW}",
        f"{HEBREW} (417) SEA {HEBREW}",
        f"a {HEBREW} 1,234.5% b",
        f"{HEBREW}: 10-20, {HEBREW}!",
        f"{HEBREW}\u200f-\u200e{HEBREW} x",
    ],
)
def test_the_order_on_the_line_is_the_standards(text):
    """Hebrew has no joined forms: one glyph a letter, so that places tell the order."""
    line = shaped(text, Setting("rubik-bold", features=(("dlig", False), ("liga", False))))
    marks = "\u200e\u200f"
    order = sorted(
        (n for n in range(len(text)) if text[n] not in marks), key=lambda n: line.starts[n]
    )
    mirror = str.maketrans("()[]<>", ")(][><")
    shown = "".join(text[n] for n in order)
    expected = "".join(c for c in get_display(text) if c not in marks)
    assert (
        shown.translate(mirror) == expected
        or shown == expected
        or shown.translate(mirror).replace(")", "(") == expected.replace(")", "(")
    )


def test_digits_in_arabic_keep_their_order_and_letters_join():
    line = shaped(f"{ARABIC} 123", Setting("rubik-bold"))
    one, two, three = line.starts[-3:]
    assert one < two < three < min(line.starts[: len(ARABIC)])
    joined = [g.id for g in line.glyphs]
    alone = [g.id for c in ARABIC for g in shaped(c, Setting("rubik-bold")).glyphs]
    assert set(joined) != set(alone) and len(set(alone) - set(joined)) > 1


def test_levels_and_reordering_by_the_rule():
    """UAX 9, rule L2, on its own example of levels."""
    assert levels("abc") == [0, 0, 0] and levels(HEBREW) == [1] * len(HEBREW)
    assert levels("a\u2067b") == [0, None, 0]
    assert reordered("abcde", [0, 1, 1, 2, 0]) == ["a", "d", "c", "b", "e"]
    assert reordered("abcde", [1, 2, 2, 1, 1]) == ["e", "d", "b", "c", "a"]
    assert reordered("", []) == []


def test_combining_marks_take_no_tracking():
    plain, tracked = (shaped("e\u0301e", Setting("noto-sans-bold", tracking=t)) for t in (0, 0.5))
    assert tracked.width == pytest.approx(plain.width + 0.5)


def test_joined_scripts_are_not_spaced():
    plain, tracked = (shaped(ARABIC, Setting("rubik-bold", tracking=t)) for t in (0, 0.5))
    assert tracked.width == plain.width


@pytest.mark.parametrize("name", FONTS)
def test_features_are_those_of_the_tables(name):
    with TTFont(PATHS[name]) as tables:
        known = {
            record.FeatureTag
            for table in ("GSUB", "GPOS")
            if table in tables and tables[table].table.FeatureList
            for record in tables[table].table.FeatureList.FeatureRecord
        }
    assert set(face(name).features) == known
    assert {tag for tag, _ in offered(face(name).features)} <= known


def test_a_feature_is_switched_by_hand():
    """Noto Sans has small capitals; as HarfBuzz sets them."""
    found, _, _ = by_harfbuzz("ferry", "noto-sans-bold", {"smcp": True})
    line = shaped("ferry", Setting("noto-sans-bold", features=(("smcp", True),)))
    assert [g.id for g in line.glyphs] == [glyph for glyph, _ in found]
    assert [g.id for g in line.glyphs] != [
        g.id for g in shaped("ferry", Setting("noto-sans-bold")).glyphs
    ]


def test_spaced_letters_are_not_joined_unless_one_says_so():
    name = "lobster"
    joined = shaped("office", Setting(name))
    apart = shaped("office", Setting(name, tracking=0.1))
    by_hand = shaped("office", Setting(name, tracking=0.1, features=(("liga", True),)))
    assert len(joined.glyphs) < len(apart.glyphs) == 6
    assert len(by_hand.glyphs) == len(joined.glyphs)


def test_axes_are_those_of_the_font_and_draw_as_its_instance():
    with TTFont(PATHS["fraunces"]) as tables:
        known = {axis.axisTag: (axis.minValue, axis.maxValue) for axis in tables["fvar"].axes}
        told = {i.tag: (i.min_value, i.max_value) for i in face("fraunces").axis_infos}
        assert told == known
        at = {"wght": 300, "opsz": 72, "SOFT": 50, "WONK": 0}
        instance = instantiateVariableFont(tables, at)
        glyph = instance.getBestCmap()[ord("g")]
        advance = instance["hmtx"][glyph][0] / instance["head"].unitsPerEm
    thin = Setting("fraunces", axes=tuple(at.items()))
    assert shaped("g", thin).width == pytest.approx(advance, abs=1e-3)
    art = Lettering(text="g", font="fraunces", size=px(100), axes=at)
    assert art.outline().edges.shape != art.model_copy(update={"axes": {}}).outline().edges.shape
    beyond = Setting("fraunces", axes=(("wght", 9000.0), ("nope", 1.0)))
    assert beyond.face.axes == (("wght", 900.0),)


def test_case_is_kept_apart_from_what_is_typed():
    typed, capitals = (
        Lettering(text="straße", font="anton", size=px(100), case=case).outline()
        for case in ("typed", "capitals")
    )
    shouted = Lettering(text="STRASSE", font="anton", size=px(100)).outline()
    np.testing.assert_array_equal(capitals.edges, shouted.edges)
    assert typed.width != capitals.width
    assert len(shaped("straße", Setting("anton", case="capitals")).starts) == len("straße")


def test_a_face_that_lacks_a_letter_is_stood_in_for_and_says_so():
    art = Lettering(text=f"FERRY Ж {HEBREW}", font="anton", size=px(100))
    faces = {g.face.ref for g in shaped(art.text, art.setting).glyphs}
    assert faces == {"anton", "noto-sans-bold", "rubik-bold"}
    notes = " ".join(art.notes())
    assert "Ж: set in Noto Sans Bold" in notes and "Rubik Bold" in notes


@pytest.mark.parametrize("text", ["🚢", "a🚢b", "👩‍✈️", "海"])
def test_what_no_face_has_is_named_and_leaves_room(text):
    art = Lettering(text=text, font="anton", size=px(100))
    assert "room is left" in art.notes()[-1]
    boxes = {g.id for g in shaped(text, art.setting).glyphs}
    assert 0 not in boxes  # never the box of a missing glyph
    assert art.outline().width > 0


@pytest.mark.parametrize(
    "text",
    [
        "x" * 500,
        f"{HEBREW} 12 " * 50,
        "\x00\x07\x1b\u2066\u202eabc\u202c\u2069",
        "\u202b" * 300,
        "e" + "\u0301" * 400,
        "\n" * 400,
        "👨‍👩‍👧‍👦" * 40,
        "\ud800 lone",
        "ﷺ" * 100,
    ],
)
@pytest.mark.parametrize("font", ["mr-dafoe", "rubik-bold"])
def test_whatever_is_typed_is_set_or_refused_in_words(text, font):
    try:
        art = Lettering(text=text[:500], font=font, size=px(100))
    except ValidationError:
        return
    try:
        outline = art.outline()
        assert np.isfinite(outline.edges).all()
        art.notes()
    except KilnError as error:
        assert error.message.endswith(".")


def test_five_hundred_characters_are_the_most():
    of = piece(mark(lettering("GULL")))
    path = ["stack", of.stack[0].id, "art", "text"]
    with pytest.raises(KilnError, match="500 characters"):
        apply(of, [{"op": "set", "path": path, "value": "x" * 501}])


def drawn(text, font, size=120):
    art = Lettering(text=text, font=font, size=px(size))
    outline = art.outline()
    shift = np.array([outline.width / 2 + 0.5, 1.2] * 2)
    wide = int((outline.width + 1) * size)
    return coverage((outline.edges + shift) * size, wide, int(2.4 * size))


@pytest.mark.parametrize("font", ["mr-dafoe", "lobster", "pacifico"])
def test_overlapping_letters_are_one_solid_coverage(font):
    """Whatever one letter covers whole, all of them together cover whole; and nothing more than the
    letters' sum is covered.
    """
    text = "Supper"
    whole = drawn(text, font)
    line, used = shaped(text, Setting(font)), Setting(font).face
    shift = np.array([line.width / 2 + 0.5 - line.width / 2, 1.2] * 2)
    cap = used.cap_height / used.units
    apart = []
    for glyph in line.glyphs:
        edges = edges_of([glyph]) + np.array([0, cap / 2] * 2) + shift - np.array([0, 0] * 2)
        apart.append(coverage(edges * 120, whole.shape[1], whole.shape[0]))
    apart = np.array(apart)
    assert (whole[apart.max(0) > 0.999] > 0.999).all()
    assert (whole <= apart.sum(0).clip(0, 1) + 0.02).all()
    overlaps = (apart > 0.5).sum(0) > 1
    assert overlaps.sum() > 20


def test_a_letter_does_not_depend_on_those_it_does_not_touch():
    """To the bit: the edges of one word within another line, but for where they stand."""
    alone = edges_of(shaped("H", Setting("courier-prime-bold")).glyphs)
    line = shaped("QUAY H", Setting("courier-prime-bold"))
    last = edges_of([line.glyphs[-1]])
    np.testing.assert_array_equal(last, alone + np.array([line.glyphs[-1].x - 0, 0] * 2))


def test_settings_of_letters_are_kept_and_bounded():
    given = lettering("Gull", font="fraunces", axes={"wght": 400.0}, features={"liga": False})
    of = piece(mark(given))
    again = load(dump(of))
    assert again.stack[0].art.axes == {"wght": 400.0} and again == of
    for wrong in (
        {"axes": {"weight!": 1}},
        {"font": "no-such"},
        {"case": "loud"},
        {"axes": {"wght": float("nan")}},
    ):
        with pytest.raises((KilnError, ValueError)):
            piece(mark({**given, **wrong}))


def test_a_font_that_is_not_there_is_said(store):
    art = Lettering(text="Gull", font="0" * 64, size=px(100))
    with pytest.raises(KilnError, match="Choose another"):
        art.outline()
