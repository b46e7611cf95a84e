"""Where textures and strokes lie: a mark's frame starts at its first baseline, and moves with the
letters that stay.
"""

import json

import numpy as np
import pytest

from kilncore import engine
from kilncore.document import dump, load
from kilncore.edits import apply
from kilncore.layout.layout import Layout
from kilncore.system.cache import ByteCache
from tests.documents import group, lettering, mark, piece
from tests.documents import px as length
from tests.documents import step as asked

SIZE = (700, 400)


def now(*marks, **more):
    """A piece of today's format."""
    made = piece(*marks, size=SIZE, ground={"kind": "none"}, **more)
    tree = made.model_dump(mode="json")
    for item in tree["stack"]:
        item.pop("frame", None)
        for member in item.get("members", ()):
            member.pop("frame", None)
    return load(tree)


def drawn(document, store, **how):
    return engine.render(document, assets=store, cache=ByteCache(), seen=None, **how)


def words(document, text):
    return apply(
        document,
        [{"op": "set", "path": ["stack", document.stack[0].id, "art", "text"], "value": text}],
    )


@pytest.mark.parametrize("align, across", [("left", -1), ("centre", 0), ("right", 1)])
def test_it_starts_at_the_alignment_point_of_the_first_baseline(align, across):
    document = now(
        mark(lettering("OX\nBELL", 100, align=align), 300, 200, scale=1.5, rotation_deg=90)
    )
    layout, item = Layout(document), document.stack[0]
    frame, box = layout.frame(item), layout.box(item)
    cap = 1.5 * (box.height / 1.5 - 1.1 * 100)  # what is left of the box above its first baseline
    assert frame.unit_px == pytest.approx(150) and frame.rotation == pytest.approx(np.pi / 2)
    assert (frame.x, frame.y) == pytest.approx(
        (300 + box.height / 2 - cap, 200 + across * box.width / 2)
    )


def test_other_art_and_groups_have_their_middle_and_their_height():
    document = now(group(mark(lettering("O", 90), 10, 20), x=300, y=200, scale=2))
    frame, box = Layout(document).frame(document.stack[0]), Layout(document).box(document.stack[0])
    assert (frame.x, frame.y, frame.unit_px) == (box.x, box.y, box.height)


def test_a_line_more_leaves_the_wear_of_the_first_as_it_is(texture, store):
    """Left aligned, the first line's letters stay where the frame is: their wear and their %
    lengths do not change.
    """
    worn = asked(
        "wear",
        texture=texture,
        black=0.3,
        white=0.7,
        placement={"x": {"value": 20, "unit": "%"}, "y": length(0)},
    )
    one = now(mark(lettering("GULL", 100, align="left"), 300, 120, [worn]))
    two = words(one, "GULL\nKEY")
    a, b = drawn(one, store)[..., 3], drawn(two, store)[..., 3]
    top = Layout(one).box(one.stack[0])
    rows = slice(int(top.y - top.height / 2) - 4, int(top.y + top.height / 2) - 4)
    np.testing.assert_allclose(a[rows], b[rows], atol=1e-12)
    assert Layout(one).frame(one.stack[0]).unit_px == Layout(two).frame(two.stack[0]).unit_px == 100


@pytest.mark.parametrize("align", ["left", "centre", "right"])
@pytest.mark.parametrize("font", ["alfa-slab-one", "courier-prime-bold"])
@pytest.mark.parametrize(
    "before, after, stays",
    [
        ("GULL", "SEA GULL", "GULL"),
        ("NIGHT FERRY", "NIGHT BUS", "NIGHT "),
        ("BERTH 4", "BERTH 4 TO 12", "BERTH 4"),
        ("DECK", "DE LUCK", "DE"),
    ],
)
def test_the_letters_that_stay_keep_their_wear_to_the_bit(
    texture, store, align, font, before, after, stays
):
    """Extended before, after or in the middle: the letters that stay have moved by whole px, and
    their finished pixels are the same bytes."""
    worn = asked("wear", texture=texture, black=0.3, white=0.7)
    art = lettering(before, 80, align=align, font=font)
    place = {"scale": 0.9173} if align == "right" else {}
    one = now(mark(art, {"left": 350.3, "centre": 350.5}.get(align, 515), 200.7, [worn], **place))
    two = words(one, after)
    frames = [Layout(document).frame(document.stack[0]) for document in (one, two)]
    dx, dy = frames[1].x - frames[0].x, frames[1].y - frames[0].y
    assert (dx, dy) == pytest.approx((round(dx), round(dy)), abs=1e-5)
    crops = []
    for document, text in ((one, before), (two, after)):
        item = document.stack[0]
        box, em = Layout(document).box(item), 80 * item.placement.scale
        letters = item.art._laid_out
        start = text.index(stays)
        left = box.x + em * letters.letter(start)[0]
        last = start + len(stays.rstrip())
        right = box.x + (em * letters.letter(last)[0] if last < len(text) else box.width / 2)
        crops.append((left, right, drawn_bytes(document, store)))
    (left, right, a), (there, _, b) = crops
    assert there - left == pytest.approx(dx, abs=1e-4)
    shift = round(dx)
    wide = slice(round(left) + 2, round(right) - 2)
    kept, found = a[:, wide], b[:, wide.start + shift : wide.stop + shift]
    np.testing.assert_array_equal(kept, np.roll(found, -round(dy), 0))
    assert (kept[..., 3] > 0).sum() > 300 and len(np.unique(kept[..., 3])) > 20


def drawn_bytes(document, store):
    return engine.pixels(document, None, 1.0, store, cache=ByteCache())


def load_art(described):
    return piece(mark(described)).stack[0].art


def test_words_with_nothing_in_common_leave_the_frame_alone():
    one = now(mark(lettering("GULL", 80), 350, 200))
    assert words(one, "xyz").stack[0].frame == one.stack[0].frame
    assert words(one, "").stack[0].frame == one.stack[0].frame


def test_undoing_the_words_undoes_the_frame():
    one = now(mark(lettering("NIGHT FERRY", 80), 350, 200))
    there = words(words(one, "NIGHT BUS"), "NIGHT FERRY")
    assert there.stack[0].frame.x == pytest.approx(one.stack[0].frame.x, abs=1e-9)


def test_older_documents_look_as_they_did(texture, store):
    """Format 3: the frame was the middle of the box and its height. The upgrade's shift says so."""
    worn = asked(
        "wear",
        texture=texture,
        black=0.3,
        white=0.7,
        placement={"x": {"value": 15, "unit": "%"}, "y": length(-8), "rotation_deg": 10},
    )
    old = {
        "format": 3,
        "size_px": SIZE,
        "ground": {"fill": {"kind": "none"}},
        "treatment": [],
        "stack": [
            mark(
                lettering("OX\nBELL", 70, align="right"),
                300.5,
                201,
                [worn],
                rotation_deg=7,
                scale=1.3,
            )
        ],
    }
    found = load(json.loads(json.dumps(old)))
    frame, box = Layout(found).frame(found.stack[0]), Layout(found).box(found.stack[0])
    assert (frame.x, frame.y, frame.unit_px) == pytest.approx((box.x, box.y, box.height), abs=1e-5)
    assert load(dump(found)) == found and found.format == 8


def test_ranges_of_older_documents_have_their_new_names():
    landing = {
        "mode": "normal",
        "gate_beneath": {"hidden_below": 0.1, "shown_from": 0.2, "shown_to": 1, "hidden_above": 1},
    }
    old = {
        "format": 3,
        "size_px": SIZE,
        "stack": [],
        "treatment": [{"kind": "grain", "landing": landing}],
    }
    assert load(old).treatment[0].landing.ranges[0].shown_from == 0.2


def test_a_colour_holds_on_the_bare_art_whatever_was_done_to_it(texture, store):
    """Worn and coated before, the limit still lies where the letters' colour is; moved, it has
    moved with them.
    """
    held = {
        **asked("grain", "normal", amount=0),
        "landing": {"limits": [{"kind": "colour", "colour": "#c03020", "tolerance": 0.05}]},
    }
    steps = [
        asked("wear", texture=texture, black=0.2, white=0.5, strength=0.7),
        asked("coat", "multiply", 0.8, texture=texture),
    ]
    plain = now(mark(lettering("OX", 200, "#c03020"), 350, 200, [*steps, held]))
    free = now(mark(lettering("OX", 200, "#c03020"), 350, 200, [*steps, {**held, "landing": {}}]))
    a, b = drawn(plain, store), drawn(free, store)
    assert (np.abs(a - b)[..., :3] * b[..., 3:]).max() < 2e-3 and a[
        ..., 3
    ].sum() > 1000  # what covers a thousandth has no colour to speak of
    other = {
        **held,
        "landing": {"limits": [{"kind": "colour", "colour": "#20c030", "tolerance": 0.05}]},
    }
    shut = now(mark(lettering("OX", 200, "#c03020"), 350, 200, [*steps, other]))
    np.testing.assert_allclose(
        drawn(shut, store),
        drawn(now(mark(lettering("OX", 200, "#c03020"), 350, 200, steps)), store),
        atol=1e-5,
    )


def two_colours(tmp, store):
    """A drawing half red, half blue, at a slant, brought in as the bench does."""
    from kilncore.artwork.intake import brought_in

    svg = b'<svg xmlns="http://www.w3.org/2000/svg" width="200" height="160"><rect width="200" height="160" fill="#d03020"/><path d="M90 0L200 0L200 160L60 160Z" fill="#2040c0"/></svg>'  # noqa: E501
    safe = brought_in(svg)
    return {
        "kind": "vector",
        "hash": store.keep(safe.data),
        "width": safe.width,
        "height": safe.height,
    }


def test_antialiased_edges_are_shared_between_a_colour_and_its_counterpart(store, tmp_path):
    """Grain of no amount, laid in a colour and out of it: together they are grain laid everywhere,
    and neither leaves a rim.
    """
    art = two_colours(tmp_path, store)

    def weights(**limit):
        white = {
            **asked("grain", "normal", amount=0),
            "landing": {"limits": [limit]} if limit else {},
        }
        return drawn(now(mark(art, 350, 200, [white])), store)

    bare, full = drawn(now(mark(art, 350, 200)), store), weights()
    inside, outside = (
        weights(kind="colour", colour="#d03020", tolerance=0.1, outside=out)
        for out in (False, True)
    )
    np.testing.assert_allclose((inside - bare) + (outside - bare), full - bare, atol=1e-5)
    share = (
        (inside - bare)[..., 2]
        / np.where(np.abs((full - bare)[..., 2]) > 0.05, (full - bare)[..., 2], 1)
    )[130:270, 260:440]
    edge = (share > 0.02) & (share < 0.98)
    assert 100 < edge.sum() < 600 and 0.35 < share[edge].mean() < 0.65


def test_a_colour_is_carried_along_by_the_moves_before_it(texture, store):
    art = two_colours(None, store)
    follow = asked("follow", across=length(60), down=length(0), smooth=length(0))
    held = {
        **asked("grain", "normal", amount=0),
        "landing": {"limits": [{"kind": "colour", "colour": "#d03020", "tolerance": 0.1}]},
    }
    ground = {"kind": "texture", "texture": texture, "placement": {"scale": 8.0}}

    def at(*steps):
        return drawn(piece(mark(art, 350, 200, steps), size=SIZE, ground=ground), store)

    moved, painted = at(follow), at(follow, held)
    red, blue = (
        np.abs(moved[..., :3] - np.array(colour) / 255).max(2) < 0.005
        for colour in ((0xD0, 0x30, 0x20), (0x20, 0x40, 0xC0))
    )
    assert min(red.sum(), blue.sum()) > 5000
    assert (
        np.abs(painted - moved).max(2)[red].min() > 0.2
        and np.abs(painted - moved).max(2)[blue].max() < 0.05
    )
