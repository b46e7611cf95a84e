"""Drawings: their colours written out, replaced, parted; their text as outlines."""

import numpy as np
import pytest

from kilncore import edits, engine
from kilncore.artwork.intake import brought_in
from kilncore.artwork.parting import counted, parted
from kilncore.artwork.vector import ColourChange, Shown, Vector, rasterised
from kilncore.assets import AssetStore
from kilncore.errors import KilnError
from kilncore.svg.colours import hex_of
from kilncore.svg.sanitising import sanitise
from kilncore.svg.text import font_for
from tests.documents import mark, piece, step

HEAD = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'


def svg(body, size="100", more="") -> bytes:
    sides = f'width="{size}" height="{size}" viewBox="0 0 100 100"'
    return f"<svg {HEAD} {sides} {more}>{body}</svg>".encode()


BOAT = svg(
    '<style>.sea{fill:rgb(20,60,120)}</style><g id="night_sky"><rect width="100" height="100" '
    'fill="hsl(220 60% 20%)"/><circle cx="70" cy="25" r="12" fill="gold"/></g>'
    '<g id="boat"><path d="M10 60h80l-15 20h-50z" fill="#a03020" stroke="#f0e0c0" '
    'stroke-width="3"/>'
    '<rect x="40" y="30" width="8" height="30" fill="#f0e0c0"/></g>'
    '<rect class="sea" y="76" width="100" height="24"/>'
    '<path d="M0 84q25-8 50 0t50 0v4q-25-8-50 0t-50 0z" fill="#a03020"/>'
)


@pytest.mark.parametrize(
    "css, expected",
    [
        ("rebeccapurple", "#663399"),  # CSS Color 4, named colours
        ("rgb(255 0 0 / 50%)", "#ff000080"),
        ("rgb(300,-5,0)", "#ff0000"),
        ("hsl(120deg 100% 25%)", "#008000"),
        ("#abc", "#aabbcc"),
        ("#ABCD", "#aabbccdd"),
        ("hwb(194 0% 0%)", "#00c3ff"),
        ("oklch(0.627955 0.257683 29.2339)", "#ff0000"),  # CSS Color 4, red
        ("lab(46.2775% -47.5621 48.5837)", "#008000"),  # Web Platform Tests, lab-001
        ("color(display-p3 0.8229 0.8229 0.8229)", "#d2d2d2"),
        ("transparent", "#00000000"),
        ("url(#x)", None),
        ("no colour", None),
        ("var(--x)", None),
    ],
)
def test_colours_are_written_out(css, expected):
    assert hex_of(css) == expected


def vector(data, **more) -> tuple[Vector, bytes, dict]:
    found = brought_in(data)
    settings = Vector(hash="0" * 64, width=found.width, height=found.height, **more)
    return settings, found.data, found.facts


def pixels(art: Vector, data: bytes, side=200) -> np.ndarray:
    """(side, side, 4) premultiplied, 0..1."""
    scale = side / max(art.width, art.height)
    matrix = (scale, 0, 0, scale, side / 2, side / 2)
    found = rasterised(data, (art.width, art.height), matrix, side, side, 1.0, art.changes) / 255
    return np.dstack([found[..., :3] * found[..., 3:], found[..., 3]])


def test_what_a_drawing_is_made_of_is_told():
    _, _, facts = vector(BOAT)
    colours = dict(map(tuple, facts["colours"]))
    assert set(colours) == {"#142952", "#ffd700", "#a03020", "#f0e0c0", "#143c78"}
    assert colours["#ffd700"] == pytest.approx(np.pi * 144 / 10_000, abs=0.01)
    assert sum(colours.values()) == pytest.approx(1, abs=0.01)
    assert facts["groups"] == ["night sky", "boat", "", ""]
    paints = [paint for paint, _ in facts["paints"]]
    assert paints.index("#ffd700") < paints.index("#a03020")
    assert dict(map(tuple, facts["paints"]))["#ffd700"] == 0


def test_a_colour_is_replaced_wherever_it_is():
    art, data, _ = vector(BOAT, recolour=(ColourChange(old="#a03020", new="#00ff00"),))
    found = pixels(art, data)
    plain = pixels(art.model_copy(update={"recolour": ()}), data)
    hull = np.abs(plain[..., :3] - np.array((160, 48, 32)) / 255).max(2) < 0.01
    assert hull.sum() > 2000
    np.testing.assert_allclose(found[hull][:, :3], [(0, 1, 0)] * hull.sum(), atol=0.01)
    np.testing.assert_allclose(found[..., 3], plain[..., 3])


def test_see_through_colours_and_gradients_are_replaced_too():
    body = (
        '<linearGradient id="g"><stop stop-color="rgba(255,0,0,.5)"/><stop offset="1" '
        'stop-color="blue"/></linearGradient><rect width="100" height="100" fill="url(#g)"/>'
    )
    art, data, _ = vector(svg(body), recolour=(ColourChange(old="#ff0000", new="#00ff00"),))
    left, right = pixels(art, data)[100, [2, 197]]
    np.testing.assert_allclose(left, (0, 0.5, 0, 0.5), atol=0.03)
    np.testing.assert_allclose(right, (0, 0, 1, 1), atol=0.03)


def test_one_colour_over_all_keeps_the_shape():
    art, data, _ = vector(BOAT, one_colour=True, colour="#336699")
    found = pixels(art, data)
    solid = found[..., 3] > 0.99
    np.testing.assert_allclose(found[solid][:, :3], [(0.2, 0.4, 0.6)] * solid.sum(), atol=0.01)


def test_masks_and_current_colour_are_understood():
    body = (
        '<mask id="m"><rect width="50" height="100" fill="#fff"/></mask><g color="#c00">'
        '<rect width="100" height="100" fill="currentColor" mask="url(#m)"/></g>'
    )
    art, data, facts = vector(svg(body), recolour=(ColourChange(old="#cc0000", new="#0000cc"),))
    assert [colour for colour, _ in facts["colours"]] == ["#cc0000"]
    found = pixels(art, data)
    np.testing.assert_allclose(found[100, 50], (0, 0, 0.8, 1), atol=0.01)
    assert found[100, 150, 3] == 0


@pytest.mark.parametrize("way, count", [("colour", 5), ("group", 4)])
def test_parts_together_look_as_the_drawing_did(way, count):
    """Laid over one another by source-over, antialiased edges apart."""
    art, data, facts = vector(BOAT)
    whole, together = pixels(art, data), np.zeros((200, 200, 4))
    parts = parted(art, way, facts)
    assert len(parts) == count
    for _, part in parts:
        found = pixels(part, data)
        assert 0 < found[..., 3].sum() <= whole[..., 3].sum()
        together = found + together * (1 - found[..., 3:])
    away = np.abs(together - whole).max(2)
    assert away.mean() < 0.004 and (away > 0.05).mean() < 0.03


def test_a_part_keeps_to_its_paint():
    art, data, facts = vector(BOAT)
    names = [name for name, _ in parted(art, "colour", facts)]
    assert names[0] == "#142952" and set(names) == {c for c, _ in facts["colours"]}
    gold = dict(parted(art, "colour", facts))["#ffd700"]
    found = pixels(gold, data)
    covered = found[..., 3] > 0.99
    np.testing.assert_allclose(
        found[covered][:, :3], [(1, 215 / 255, 0)] * covered.sum(), atol=0.01
    )


SYMBOLS = svg(
    '<defs><g id="s"><rect width="30" height="30"/></g><symbol id="y" viewBox="0 0 9 9">'
    '<circle cx="4.5" cy="4.5" r="4" fill="#00f"/></symbol></defs>'
    '<use href="#s" x="5" y="5" fill="#c00"/><use href="#s" x="60" y="5" fill="#0a0"/>'
    '<use href="#y" x="5" y="60" width="30" height="30"/>'
)


def test_what_a_symbol_leaves_open_is_its_users():
    """A fill that comes from the `use` is a paint of the drawing, is picked and replaced."""
    art, data, facts = vector(SYMBOLS)
    assert {paint for paint, _ in facts["paints"]} == {"#cc0000", "#00aa00", "#0000ff"}
    assert {colour for colour, _ in facts["colours"]} == {"#cc0000", "#00aa00", "#0000ff"}
    whole = pixels(art, data)
    together = np.zeros_like(whole)
    for name, part in parted(art, "colour", facts):
        found = pixels(part, data)
        solid = found[..., 3] > 0.99
        rgb = [int(name[i : i + 2], 16) / 255 for i in (1, 3, 5)]
        np.testing.assert_allclose(found[solid][:, :3], [rgb] * solid.sum(), atol=0.01)
        together = found + together * (1 - found[..., 3:])
    assert np.abs(together - whole).max() < 0.02


def test_a_part_of_some_groups_is_parted_by_their_colours_alone():
    art, data, facts = vector(BOAT, shown=Shown(groups=(0,)))
    parts = parted(art, "colour", facts)
    assert [name for name, _ in parts] == ["#142952", "#ffd700"]
    gold = dict(parts)["#ffd700"]
    assert counted(gold, facts) == {"colour": 1, "group": 1}
    assert counted(art, facts) == {"colour": 2, "group": 1}
    assert all(pixels(part, data)[..., 3].any() for _, part in parts)


def test_groups_are_picked():
    art, data, _ = vector(BOAT, shown=Shown(groups=(0,)))
    found = pixels(art, data)
    assert found[100, 100, 3] > 0.99 and np.allclose(found[180, 100, :3], found[100, 20, :3])


def test_what_cannot_be_parted_is_refused_in_words():
    art, _, facts = vector(svg('<rect width="9" height="9"/>'))
    for way in ("colour", "group"):
        with pytest.raises(KilnError, match="only one"):
            parted(art, way, facts)
    with pytest.raises(KilnError, match="one of"):
        parted(art, "size", facts)
    many = svg("".join(f'<rect width="9" height="{n}"/>' for n in range(1, 50)))
    with pytest.raises(KilnError, match="40 parts"):
        parted(vector(many)[0], "group", vector(many)[2])


def test_a_parted_mark_stays_in_place_and_keeps_its_treatment(tmp_path):
    assets = AssetStore(tmp_path)
    found = brought_in(BOAT)
    settings = {"kind": "vector", "hash": assets.keep(found.data), "width": 100, "height": 100}
    document = piece(
        mark(settings, x=150, y=120, scale=2, treatment=[step("soften", radius={"value": 1})])
    )
    first = next(document.marks())
    marks = [
        {"name": name, "art": art.model_dump(mode="json")}
        for name, art in parted(first.art, "group", found.facts)
    ]
    after = edits.apply(document, [{"op": "replace_mark", "mark": first.id, "marks": marks}])
    assert len(after.stack) == 4 and after.stack[0].id == first.id
    assert {len(item.treatment) for item in after.stack} == {1}
    assert len({item.seed for item in after.stack}) == 4
    one, other = (engine.pixels(doc, None, 1.0, assets).astype(int) for doc in (document, after))
    assert np.abs(one - other).mean() < 1.5


# --- text ---


def test_text_becomes_outlines_and_stand_ins_are_told():
    found = brought_in(svg('<text x="5" y="60" font-family="Arial" font-size="40">Gull</text>'))
    assert b"<text" not in found.data and b"<path" in found.data
    assert found.notes == ("“Arial” is set in Josefin Sans Bold",)
    own = brought_in(svg('<text x="5" y="60" font-family="Anton, serif" font-size="40">G</text>'))
    assert own.notes == ()


@pytest.mark.parametrize(
    "family, font",
    [
        ("Anton", "anton"),
        ("'Alfa Slab One', serif", "alfa-slab-one"),
        ("Georgia", "josefin-sans-bold"),
        ("Times New Roman, serif", "abril-fatface"),
        ("Open Sans, sans-serif", "josefin-sans-bold"),
        ("Brush Script", "lobster"),
        ("Courier New", "courier-prime-bold"),
        ("", "josefin-sans-bold"),
    ],
)
def test_families_are_stood_in_for_by_their_sort(family, font):
    assert font_for(family)[0] in (font, "abril-fatface" if family == "Georgia" else font)


def extent(body) -> tuple[float, float, float, float]:
    """(left, top, right, bottom) of what is drawn, in the drawing's px."""
    data = sanitise(svg(body)).data
    found = rasterised(data, (100, 100), (4, 0, 0, 4, 200, 200), 400, 400)[..., 3] > 127
    rows, columns = np.flatnonzero(found.any(1)), np.flatnonzero(found.any(0))
    return tuple(n / 4 for n in (columns[0], rows[0], columns[-1] + 1, rows[-1] + 1))


WORD = 'font-family="Anton" font-size="20"'


def test_text_is_anchored_moved_and_spaced():
    """SVG 1.1, 10: text-anchor, dx and dy, positions of single characters, letter-spacing."""
    left, _, right, bottom = extent(f'<text x="50" y="50" {WORD}>HH</text>')
    assert left == pytest.approx(50, abs=2) and bottom == pytest.approx(50, abs=0.3)
    width = right - left
    middle = extent(f'<text x="50" y="50" text-anchor="middle" {WORD}>HH</text>')
    end = extent(f'<text x="50" y="50" text-anchor="end" {WORD}>HH</text>')
    assert (middle[0] + middle[2]) / 2 == pytest.approx(50, abs=1)
    assert end[2] == pytest.approx(50, abs=2)
    moved = extent(f'<text x="50" y="50" {WORD}><tspan dx="5" dy="7">HH</tspan></text>')
    assert (moved[0] - left, moved[3] - bottom) == pytest.approx((5, 7), abs=0.3)
    apart = extent(f'<text x="10 60" y="50" {WORD}>HH</text>')
    assert apart[0] == pytest.approx(left - 40, abs=0.3) and apart[2] > 65
    spaced = extent(f'<text x="50" y="50" {WORD} letter-spacing="6">HH</text>')
    assert spaced[2] - spaced[0] == pytest.approx(width + 6, abs=0.5)


def test_white_space_is_collapsed_unless_it_is_kept():
    tight, loose = (
        f"<text x='5' y='50' {WORD}>\n  H   H\n </text>",
        f"<text x='5' y='50' {WORD}>H H</text>",
    )
    assert extent(tight) == pytest.approx(extent(loose), abs=0.01)
    kept = extent(f"<text x='5' y='50' xml:space='preserve' {WORD}>H   H</text>")
    assert kept[2] > extent(loose)[2] + 5


def test_places_in_per_cent_are_of_the_view_box_and_of_the_path():
    left, _, right, bottom = extent(f'<text x="50%" y="40%" text-anchor="middle" {WORD}>HH</text>')
    assert (left + right) / 2 == pytest.approx(50, abs=1) and bottom == pytest.approx(40, abs=0.5)
    path = '<path id="p" d="M0 50H100" fill="none"/>'
    found = extent(
        f'{path}<text text-anchor="middle" {WORD}><textPath href="#p" startOffset="50%">HH'
        "</textPath></text>"
    )
    assert (found[0] + found[2]) / 2 == pytest.approx(50, abs=1)


def test_text_runs_along_a_path():
    path = '<path id="p" d="M20 90V10" fill="none"/>'
    found = extent(f'{path}<text {WORD}><textPath xlink:href="#p">HHHH</textPath></text>')
    width, height = found[2] - found[0], found[3] - found[1]
    assert height > 1.4 * width and found[3] == pytest.approx(90, abs=2)


def test_hostile_text_ends_in_a_drawing_or_a_refusal():
    from kilncore.errors import UnusableFile

    bodies = (
        "<text>" + "<tspan>" * 80 + "x" + "</tspan>" * 80 + "</text>",
        f"<text x='{'1 ' * 20_000}'>{'x' * 20_000}</text>",
        "<text font-size='1e308'>x</text><rect width='9' height='9'/>",
        "<text x='nan' y='1e999' letter-spacing='1e9'>x</text><rect width='9' height='9'/>",
        "<text><textPath href='#no'>x</textPath></text><rect width='9' height='9'/>",
        "<path id='p' d='junk 1 2'/><text><textPath href='#p'>x</textPath></text>",
        "<text>\u202e\u2067\U0001f600 مرحبا</text>",
    )
    for body in bodies:
        try:
            assert brought_in(svg(body)).width == 100
        except UnusableFile as refused:
            assert refused.message
