"""Fonts that come in: only what the sanitiser wrote is kept; hostile ones are refused in words.

Sources: the OpenType specification (fsType, table tags); fontTools writes the hostile fonts.
"""

import io
import random

import pytest
import uharfbuzz as hb
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont, newTable

from kilncore.artwork.lettering import Lettering
from kilncore.errors import KilnError, UnusableFile
from kilncore.model.units import px
from kilncore.typesetting import fonts
from kilncore.typesetting.intake import embedding_words, font_of
from kilncore.typesetting.outline import MOST_POINTS
from kilncore.typesetting.shipped import SHIPPED

PLAIN = next(one.path for one in SHIPPED if one.name == "courier-prime-bold").read_bytes()
VARIABLE = next(one.path for one in SHIPPED if one.name == "fraunces").read_bytes()


def built(letters="A", points=4, upem=1000, advance=600, crossing=False, **tables) -> bytes:
    """A font of a few glyphs: each a block, or a tangle of so many points."""
    pen = TTGlyphPen(None)
    if points:
        pen.moveTo((0, 0))
        block = [(500, 0), (500, 700), (0, 700)]
        tangle = [(n % 700, n * 7 % 700) for n in range(1, points)]
        if crossing:
            tangle = [(n * n * 31 % 700, n**3 * 17 % 697) for n in range(1, points)]
        for point in block if points == 4 else tangle:
            pen.lineTo(point)
        pen.closePath()
    names = [".notdef", *(f"g{ord(c)}" for c in letters)]
    builder = FontBuilder(upem, isTTF=True)
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({ord(c): f"g{ord(c)}" for c in letters})
    blank = TTGlyphPen(None).glyph()
    builder.setupGlyf({name: blank if name == ".notdef" else pen.glyph() for name in names})
    builder.setupHorizontalMetrics({name: (advance, 0) for name in names})
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Harbour", "styleName": "Bold"})
    builder.setupOS2(sCapHeight=700, **tables)
    builder.setupPost()
    out = io.BytesIO()
    builder.save(out)
    return out.getvalue()


def shape(data: bytes, text: str) -> list:
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(hb.Font(hb.Face(hb.Blob(data))), buffer)
    found = zip(buffer.glyph_infos, buffer.glyph_positions, strict=True)
    return [(info.codepoint, position.x_advance) for info, position in found]


@pytest.mark.parametrize("data", [PLAIN, VARIABLE], ids=["plain", "variable"])
def test_what_the_sanitiser_wrote_shapes_as_the_font_did(data):
    found = font_of(data)
    for text in ("AVATAR", "office", "1,024 & To"):
        assert shape(found.data, text) == shape(data, text)


def test_a_web_font_is_unpacked(tmp_path):
    packed = TTFont(io.BytesIO(built("GUL")))
    packed.flavor = "woff"
    out = io.BytesIO()
    packed.save(out)
    found = font_of(out.getvalue())
    assert found.data[:4] == b"\0\1\0\0" and found.family == "Harbour"


def test_facts_are_told():
    found = font_of(VARIABLE)
    assert (found.family, found.characters) == ("Fraunces", 222)
    assert [axis["tag"] for axis in found.axes] == ["opsz", "wght", "SOFT", "WONK"]
    assert found.axes[1] | {"least": 100, "most": 900} == found.axes[1]
    assert "liga" in found.features


def test_a_table_that_nobody_knows_is_not_kept():
    tables = TTFont(io.BytesIO(built("GUL")))
    hidden = newTable("EVIL")
    hidden.data = b"\x90" * 400
    tables["EVIL"] = hidden
    out = io.BytesIO()
    tables.save(out)
    assert b"EVIL" in out.getvalue() and b"EVIL" not in font_of(out.getvalue()).data


@pytest.mark.parametrize(
    "rights, words",
    [
        (0, "embedded and installed"),
        (0x2, "Must not be embedded"),
        (0x4, "viewing and print"),
        (0x8, "others edit"),
        (0x104, "viewing and print. Not in part"),
        (0xC, "others edit"),
    ],
)
def test_embedding_rights_in_words(rights, words):
    """OpenType specification, OS/2, fsType."""
    assert words in embedding_words(rights)
    if rights in (0, 2):
        assert font_of(built(fsType=rights)).embedding == rights


HOSTILE = {
    "nothing": b"",
    "a sign alone": b"\0\1\0\0",
    "zeroes": b"\0\1\0\0" + bytes(20_000),
    "a table count": b"OTTO" + b"\xff" * 2000,
    "web sign": b"wOF2" + bytes(400),
    "a collection": b"ttcf" + PLAIN[4:],
    "cut short": PLAIN[: len(PLAIN) // 2],
    "text": b"<svg xmlns='http://www.w3.org/2000/svg'/>",
    "no letters": built(""),
    "blank letters": built("ABC", points=0),
    "a glyph of very many points": built("A", points=MOST_POINTS + 50),
}


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_fonts_are_refused_in_words(name):
    with pytest.raises(UnusableFile) as refused:
        font_of(HOSTILE[name])
    assert refused.value.message.endswith(".") and len(refused.value.message) < 200


@pytest.mark.parametrize("seed", range(6))
def test_damaged_fonts_are_refused_or_draw(seed, store):
    """Forty random bytes changed, or a few: whatever is let in sets words, within bounds."""
    chance = random.Random(seed)
    data = bytearray(VARIABLE if seed % 2 else PLAIN)
    for _ in range(40 if seed % 3 else 4):
        data[chance.randrange(len(data))] = chance.randrange(256)
    try:
        found = font_of(bytes(data))
    except UnusableFile:
        return
    name = store.keep(found.data)
    fonts.look_in(store)
    art = Lettering(text="Pellwick Night Ferry 0417 " * 15, font=name, size=px(100))
    try:
        assert len(art.outline().edges)
    except KilnError as error:
        assert error.message.endswith(".")


def test_huge_advances_and_tiny_ems_are_borne(store):
    found = font_of(built("GUL", upem=16, advance=32_000))
    name = store.keep(found.data)
    art = Lettering(text="GULL" * 100, font=name, size=px(1000))
    art.check()
    assert art.box_px(300, 1000)[0] > 0


def test_too_much_of_an_intricate_letter_is_refused_when_it_is_typed(store):
    from kilncore.edits import apply
    from tests.documents import lettering, mark, piece

    name = store.keep(font_of(built("AB", points=MOST_POINTS - 10)).data)
    of = piece(mark(lettering("A")))
    way = ["stack", of.stack[0].id, "art"]
    edits = [
        {"op": "set", "path": [*way, "font"], "value": name},
        {"op": "set", "path": [*way, "text"], "value": "AB" * 240},
    ]
    with pytest.raises(KilnError, match="intricate"):
        apply(of, edits)
