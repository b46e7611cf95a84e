"""Steps that several parts share, art that is mirrored, coats that are inverted, small copies."""

import numpy as np
import pytest

from kilncore import edits, engine
from kilncore.document import load
from kilncore.engine.reduced import reduced
from kilncore.errors import KilnError
from kilncore.recipe import taken_from
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png


@pytest.fixture
def two(store, rng):
    texture = {"hash": store.keep(png(rng.integers(0, 255, (64, 64, 3)).astype(np.uint8)))}
    worn = {**step("wear", texture=texture, black=0.3), "id": "mask"}
    return piece(mark(treatment=[worn]), mark(lettering("Bell", 60), 120, 60))


def change(document, *wanted):
    return edits.apply(document, list(wanted))


def shared(document):
    first, second = document.stack
    return change(document, {"op": "share_step", "step": "mask", "parts": [second.id]})


def set_black(document, item, value):
    path = ["stack", item.id, "treatment", item.treatment[-1].id, "params", "black"]
    return change(document, {"op": "set", "path": path, "value": value})


def blacks(document):
    return [item.treatment[-1].params.black for item in document.stack]


def test_what_is_changed_of_one_is_changed_of_all(two):
    document = shared(two)
    first, second = (item.treatment[-1] for item in document.stack)
    assert first.shared == second.shared != "" and first.id != second.id
    for index, value in ((0, 0.1), (1, 0.2)):
        document = set_black(document, document.stack[index], value)
        assert blacks(document) == [value, value]
    seeded = change(document, {"op": "seed_step", "step": first.id, "seed": 99})
    assert [item.treatment[-1].seed for item in seeded.stack] == [99, 99]
    path = ["stack", document.stack[1].id, "treatment", second.id, "landing", "strength"]
    landed = change(document, {"op": "set", "path": path, "value": 0.5})
    assert [item.treatment[-1].landing.strength for item in landed.stack] == [1.0, 0.5]


def test_one_is_made_its_own_and_copies_go_on_sharing(two):
    document = shared(two)
    copy = change(document, {"op": "copy_mark", "mark": document.stack[0].id})
    assert blacks(set_black(copy, copy.stack[0], 0.15)) == [0.15] * 3
    own = document.stack[1].treatment[-1].id
    alone = change(document, {"op": "unshare_step", "step": own})
    assert blacks(set_black(alone, alone.stack[0], 0.05)) == [0.05, 0.3]
    ids = [item.id for item in document.stack]
    copied = change(document, {"op": "copy_steps", "part": ids[0], "to": ids[1]})
    assert copied.stack[1].treatment[-1].shared == ""
    assert taken_from(document, ids[0]).steps[0].shared == ""


def test_shared_once_only_and_not_with_what_it_cannot_treat(two):
    document = shared(two)
    again = change(document, {"op": "share_step", "step": "mask", "parts": [document.stack[1].id]})
    assert len(again.stack[1].treatment) == 1
    follow = piece(mark(treatment=[{**step("follow"), "id": "f"}]))
    with pytest.raises(KilnError, match="cannot treat"):
        change(follow, {"op": "share_step", "step": "f", "parts": ["ground"]})
    for parts in (["nowhere"], [], ["nowhere"] * 3):
        with pytest.raises(KilnError):
            change(document, {"op": "share_step", "step": "mask", "parts": parts})


def test_words_and_drawings_are_mirrored_about_their_middle(store):
    plain, other = (
        engine.render(piece(mark(lettering("Lq", 120, mirrored=m), 200, 150)), assets=store)
        for m in (False, True)
    )
    assert np.abs(plain - other).max() > 0.5
    np.testing.assert_allclose(other, plain[:, ::-1], atol=2e-3)
    path = b'<path d="M5 5h60v10h-60z"/>'
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 60">' + path + b"</svg>"
    drawing = {"kind": "vector", "hash": store.keep(svg), "width": 100, "height": 60}
    plain, other = (
        engine.render(piece(mark({**drawing, "mirrored": m}, 200, 150, scale=2)), assets=store)
        for m in (False, True)
    )
    np.testing.assert_allclose(other, plain[:, ::-1], atol=0.02)
    assert np.abs(plain - other).max() > 0.5


def test_mirrored_words_keep_their_first_letters_where_they_were(store):
    document = piece(mark(lettering("NIGHT", 80, mirrored=True, align="left"), 200, 150))
    item = document.stack[0]
    longer = change(
        document, {"op": "set", "path": ["stack", item.id, "art", "text"], "value": "NIGHTS"}
    )
    before, after = (engine.render(one, assets=store)[..., 1] for one in (document, longer))
    dark = np.flatnonzero((np.abs(before - before[0, 0]) > 0.1).any(0))
    right = slice(dark.max() - 40, dark.max() + 3)  # the N stands at the right
    assert np.abs(before[:, right] - after[:, right]).max() < 0.02


def test_an_inverted_coat_has_its_tones_changed(store):
    """Of a ramp, laid over at full strength: alpha minus colour, so 1 minus its tone."""
    ramp = np.tile(np.arange(256, dtype=np.uint8)[None, :, None], (64, 1, 3))
    texture = {"hash": store.keep(png(ramp))}
    art = {"kind": "picture", "hash": store.keep(png(np.full((16, 16, 3), 128, np.uint8)))}
    tones = []
    for inverted in (False, True):
        told = step("coat", texture=texture, inverted=inverted)
        told["params"]["placement"] = {"x": px(0), "y": px(0)}
        document = piece(mark(art | {"width": 16, "height": 16}, 200, 150, [told], scale=30))
        tones.append(engine.render(document, assets=store)[140:160, 100:300, 0])
    np.testing.assert_allclose(tones[0] + tones[1], 1, atol=0.01)


def test_a_small_copy_shows_the_same(store, rng):
    """An aim takes the same share of it, and what is large lies where it lay."""
    texture = {"hash": store.keep(png(rng.integers(0, 255, (300, 300, 3)).astype(np.uint8)))}
    worn = step("wear", texture=texture, aim=True, share=0.3)
    document = load(
        piece(mark(lettering("WORN", 700), 1200, 900, [worn]), size=(2400, 1800)).model_dump(
            mode="json"
        )
    )
    part = document.stack[0].id
    small = reduced(document, part, 100_000, 0.1)
    assert small.size_px[0] < 1200 and small.size_px[0] / small.ppi == pytest.approx(8, abs=0.02)
    shares = []
    for one in (document, small):
        scale = 600 / one.size_px[0]
        taken = engine.render(one, None, scale, store)[..., 0]
        shares.append(taken.mean())
    assert shares[0] == pytest.approx(shares[1], abs=0.01)
    assert reduced(document, part, 10_000_000, 0.1) is document
