"""The makers' room: their wall, trials, what is kept, and a texture that is made anew."""

import uuid

import numpy as np
import pytest
from django.urls import reverse

from kilncore.document import load
from kilncore.textures import makers
from kilnmark.makers import pictures
from kilnmark.pieces import actions as pieces
from kilnmark.pieces import bringing
from kilnmark.shelf import actions as shelf
from kilnmark.shelf.models import Making, Texture
from kilnmark.storage import assets, folder_for
from tests.documents import mark, one_step, piece
from tests.pictures import array

pytestmark = pytest.mark.django_db(transaction=True)


def made(client, name, **more):
    """Ask for a texture on its maker's page, and make it."""
    data = {"name": "Plate", "width": 128, "height": 96, "seed": 5, "ppi": 300} | more
    response = client.post(reverse("maker", args=[name]), data)
    assert response.status_code == 302, response.content.decode()[:2000]
    making = shelf.next_making()
    shelf.run_making(making)
    making = Making.objects.get(pk=making.pk)
    assert making.stage == "done", making.message
    return making.texture


def test_the_wall_has_every_maker_by_group(signed_in):
    page = signed_in.get(reverse("makers")).content.decode()
    for maker in makers.MAKERS.values():
        assert reverse("maker", args=[maker.name]) in page
    key = pictures.MADE_BY
    card = signed_in.get(reverse("maker-card", args=["cork", key]))
    assert array(card.content).shape[1] == 292 and "immutable" in card["cache-control"]
    stale = folder_for("makers") / "cork-0123.jpg"
    stale.write_bytes(b"of an older version")
    (folder_for("makers") / f"cork-{key}.jpg").unlink()
    assert signed_in.get(reverse("maker-card", args=["cork", key])).content == card.content
    assert not stale.exists()
    old = signed_in.get(reverse("maker-card", args=["cork", "old"]))
    assert old["cache-control"] == "no-store"
    assert signed_in.get(reverse("maker-card", args=["velvet", key])).status_code == 404


@pytest.mark.parametrize("on", ["wear", "coat", "follow"])
def test_a_texture_is_tried_on_a_word(signed_in, on):
    address = reverse("maker-trial", args=["rust"])
    with_it = array(signed_in.get(address, {"seed": 1, "on": on}).content).astype(int)
    other = array(signed_in.get(address, {"seed": 2, "on": on}).content).astype(int)
    assert with_it.shape == (400, 640, 3) and np.abs(with_it - other).max() > 60


def test_a_trial_has_a_size_a_map_and_bounds(signed_in):
    address = reverse("maker-trial", args=["brick"])
    asked = {"seed": 1, "width": 300, "height": 200, "map": "height"}
    answer = signed_in.get(address, asked)
    assert array(answer.content).shape == (200, 300) and answer["cache-control"] == "no-store"
    kept = signed_in.get(address, asked | {"key": pictures.MADE_BY})
    assert kept.content == answer.content and "immutable" in kept["cache-control"]
    small = array(signed_in.get(address, {**asked, "map": "colour", "shown": 60}).content)
    assert small.shape == (40, 60, 3)
    for wrong in ({"width": 90_000}, {"map": "glow"}, {"on": "eaten"}, {"ppi": 3}, {"seed": "x"}):
        assert signed_in.get(address, asked | wrong).status_code == 422, wrong
    no_height = reverse("maker-trial", args=["stain"])
    assert signed_in.get(no_height, {"seed": 1, "map": "height"}).status_code == 422


def test_nine_more_like_it(signed_in):
    asked = {"seed": 3, "chips": 0.5, "glaze": "blue"}
    answer = signed_in.get(reverse("maker-like", args=["enamel"]), asked).json()["like"]
    assert len(answer) == 9 and len({one["seed"] for one in answer}) > 5
    for one in answer:
        kind = makers.MAKERS["enamel"].settings.model_validate(one["settings"])
        assert kind.glaze == "blue" and abs(kind.chips - 0.5) <= 0.21
    assert answer == signed_in.get(reverse("maker-like", args=["enamel"]), asked).json()["like"]


def test_maps_are_kept_beside_it_and_fit(signed_in, user):
    texture = made(signed_in, "brick", maps=["worn", "height"], ppi=150)
    rows = {row.map: row for row in user.textures.all()}
    assert set(rows) == {"colour", "worn", "height"} and rows["colour"] == texture
    assert rows["worn"].name == "Plate, worn" and rows["worn"].made == texture.made
    kind = makers.MAKERS["brick"].settings(**texture.settings)
    again = makers.maps("brick", 128, 96, 5, kind, ppi=150)
    for name, row in rows.items():
        planes = assets().source(row.hash).planes
        assert np.array_equal(planes, again.named(name))


def test_a_texture_is_made_anew_on_every_piece(signed_in, user):
    """Its maps go with it; each piece has one more state, which can be undone."""
    old = made(signed_in, "rust", maps=["worn"], spread=0.2)
    worn = user.textures.get(map="worn")
    document = piece(
        mark(treatment=[one_step("coat", worn.ref)]), ground={"kind": "texture", "texture": old.ref}
    )
    one = pieces.start(user, load(document.model_dump(mode="json")))
    page = signed_in.get(reverse("maker", args=["rust"]), {"of": old.pk}).content.decode()
    assert one.title in page and "Change it on 1 piece" in page and 'value="0.2"' in page
    new = made(signed_in, "rust", spread=0.9, of=old.pk, everywhere=1)
    assert new.hash != old.hash and Texture.objects.filter(pk=old.pk).exists()
    one.refresh_from_db()
    fresh = user.textures.filter(map="worn").exclude(pk=worn.pk).get()
    text = str(one.document.model_dump(mode="json"))
    assert new.hash in text and fresh.hash in text
    assert old.hash not in text and worn.hash not in text and fresh.made == new.made
    while one.version < 90:  # a state for each texture
        one = pieces.undo(one, one.version)
        text = str(one.document.model_dump(mode="json"))
        if old.hash in text and worn.hash in text:
            break
    assert new.hash not in text and fresh.hash not in text


def test_it_is_tried_on_the_piece_in_the_place_of_what_is_there(signed_in, stranger, user):
    old = made(signed_in, "cork", gaps=0.1)
    document = piece(mark(), ground={"kind": "texture", "texture": old.ref})
    one = pieces.start(user, load(document.model_dump(mode="json")))
    address = reverse("maker-trial", args=["cork"])
    asked = {"seed": 5, "on": "piece", "of": old.pk, "piece": one.pk, "part": "ground"}
    size = {"width": 128, "height": 96}
    as_it_is = array(signed_in.get(address, {**asked, **size, "gaps": 0.1}).content).astype(int)
    anew = array(signed_in.get(address, {**asked, **size, "dark": 1}).content).astype(int)
    assert as_it_is.shape == anew.shape and np.abs(as_it_is - anew).mean() > 3
    assert stranger.get(address, asked).status_code == 404
    assert signed_in.get(address, asked | {"piece": uuid.uuid4()}).status_code == 404
    assert signed_in.get(address, asked | {"of": ""}).status_code == 404
    assert signed_in.get(address, asked | {"part": "nonsense"}).status_code in (404, 422)
    one.refresh_from_db()
    assert one.version == 1  # looked at alone


def test_a_motif_of_ones_own_is_tried_on_the_piece_too(signed_in, user):
    drawing = (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9v9z"/></svg>'
    )
    own = bringing.bring_in(user, "Pennant.svg", drawing)
    old = made(signed_in, "motifs", own=own.hash)
    document = piece(mark(), ground={"kind": "texture", "texture": old.ref})
    one = pieces.start(user, load(document.model_dump(mode="json")))
    asked = {"seed": 6, "on": "piece", "of": old.pk, "piece": one.pk, "part": "ground"}
    answer = signed_in.get(reverse("maker-trial", args=["motifs"]), asked | {"own": own.hash})
    assert answer.status_code == 200 and "max-age=10" in answer["cache-control"]


def test_a_trial_is_no_larger_than_is_drawn_while_somebody_waits(signed_in):
    address, asked = reverse("maker-trial", args=["grain"]), {"seed": 1, "width": 1024}
    for ppi, wanted in ((300, (1024, 1024)), (72, (524, 524))):
        found = signed_in.get(address, asked | {"height": 1024, "ppi": ppi})
        assert array(found.content).shape == wanted


def test_as_a_new_one_it_leaves_pieces_alone(signed_in, user):
    old = made(signed_in, "cork", gaps=0.1)
    document = piece(mark(), ground={"kind": "texture", "texture": old.ref})
    one = pieces.start(user, load(document.model_dump(mode="json")))
    new = made(signed_in, "cork", gaps=0.9, of=old.pk)
    one.refresh_from_db()
    text = str(one.document.model_dump(mode="json"))
    assert new.hash != old.hash and old.hash in text and new.hash not in text


def test_a_drawing_that_is_gone_ends_its_making_in_words(signed_in, user):
    drawing = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9z"/></svg>'
    own = bringing.bring_in(user, "Pennant.svg", drawing)
    settings = {"own": own.hash}
    making = shelf.ask_for(user, "motifs", "Pennants", 96, 96, 1, settings)
    own.delete()
    shelf.run_making(shelf.next_making())
    making.refresh_from_db()
    assert making.stage == "failed" and "not among your artworks" in making.message


def test_another_owners_texture_is_not_there(signed_in, stranger, user):
    texture = made(signed_in, "cork")
    for client, of in ((stranger, texture.pk), (signed_in, uuid.uuid4()), (signed_in, "nonsense")):
        assert client.get(reverse("maker", args=["cork"]), {"of": of}).status_code == 404
    assert signed_in.get(reverse("maker", args=["rust"]), {"of": texture.pk}).status_code == 404


def test_an_older_revision_keeps_its_pixels(signed_in, user):
    """What a maker drew before it was changed is not taken for what it draws now."""
    first = shelf.make(user, "cork", "Board", 96, 96, 3, {})
    assert shelf.make(user, "cork", "Board", 96, 96, 3, {}) == first
    Texture.objects.filter(pk=first.pk).update(revision=0, hash="0" * 64)
    again = shelf.make(user, "cork", "Board", 96, 96, 3, {})
    assert again != first and again.revision == makers.MAKERS["cork"].revision
    page = signed_in.get(reverse("maker", args=["cork"]), {"of": first.pk}).content.decode()
    assert "draws otherwise by now" in page


def test_ones_own_drawing_is_a_motif_and_nobody_elses(signed_in, user, django_user_model):
    drawing = (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9v9H0z"/></svg>'
    )
    own = bringing.bring_in(user, "Pennant.svg", drawing)
    other = django_user_model.objects.create_user("cook", password="hawser-and-fender")
    theirs = bringing.bring_in(other, "Ladle.svg", drawing.replace(b"9v9", b"5v9"))
    page = signed_in.get(reverse("maker", args=["motifs"])).content.decode()
    assert own.hash in page and theirs.hash not in page
    texture = made(
        signed_in, "motifs", first="none", second="none", third="none", own=own.hash, gap=0
    )
    assert (assets().source(texture.hash).planes < 60).mean() > 0.7
    trial = reverse("maker-trial", args=["motifs"])
    assert signed_in.get(trial, {"seed": 1, "own": own.hash}).status_code == 200
    assert signed_in.get(trial, {"seed": 1, "own": theirs.hash}).status_code == 422
    asked = {"width": 128, "height": 96, "seed": 5, "own": theirs.hash}
    refused = signed_in.post(reverse("maker", args=["motifs"]), asked).content.decode()
    assert "not among your artworks" in refused and not Making.objects.filter(stage="waiting")
