"""The bin: what is thrown away comes back; what nothing names goes, and nothing else."""

import os
import time
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from kilncore.document import load
from kilnmark.bin.models import Unnamed
from kilnmark.bin.sweeping import sweep
from kilnmark.binned import KEPT
from kilnmark.firings import actions as firings
from kilnmark.pieces import actions, bringing
from kilnmark.pieces.models import Artwork, Piece
from kilnmark.shelf import actions as shelf
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets
from tests.documents import mark, piece, step
from tests.pictures import png

pytestmark = pytest.mark.django_db
SVG = b'<svg xmlns="http://www.w3.org/2000/svg" width="90" height="60"><path fill="#a03020" d="M0 0h90v60z"/></svg>'  # noqa: E501


def art_of(user, name="flag.svg", data=SVG):
    return bringing.bring_in(user, name, data)


def aged(name):
    old = time.time() - 3 * 3600
    os.utime(assets().path(name), (old, old))


def later(name, days=8):
    """As if it had been known to be unnamed for so long."""
    Unnamed.objects.filter(hash=name).update(since=timezone.now() - timedelta(days=days))


def test_each_kind_is_thrown_away_and_fetched_back(signed_in, user, worked, scan):
    artwork = art_of(user)
    for kind, row, page, text in (
        ("piece", worked, "pieces", worked.title),
        ("texture", scan, "shelf", scan.name),
        ("artwork", artwork, "artworks", artwork.name),
    ):
        answer = signed_in.post(reverse("throw-away", args=[kind, row.pk]), follow=True)
        shown = answer.content.decode().split("</p>", 1)[1]
        assert f"{text}</" not in shown, kind
        assert text in signed_in.get(reverse("bin")).content.decode()
        signed_in.post(reverse("fetch-back", args=[kind, row.pk]))
        assert f"{text}</" in signed_in.get(reverse(page)).content.decode()


@pytest.mark.parametrize("key", ["1", "nothing", "00000000-0000-0000-0000-000000000000"])
@pytest.mark.parametrize("kind", ["piece", "texture", "artwork", "font", "user"])
def test_what_is_not_there_is_not_found(signed_in, kind, key):
    assert signed_in.post(reverse("throw-away", args=[kind, key])).status_code == 404


def test_what_is_in_the_bin_is_not_offered_and_pieces_keep_it(
    signed_in, user, worked, scan, change
):
    Texture.objects.filter(pk=scan.pk).throw_away()
    assert scan.name not in signed_in.get(reverse("shelf-choices")).content.decode()
    edit = [{"op": "set", "path": ["title"], "value": "Still whole"}]
    assert change(1, edit).status_code == 200
    assert signed_in.get(reverse("bench", args=[worked.pk])).status_code == 200


def test_brought_in_again_it_is_back(user, scan):
    artwork = art_of(user)
    Artwork.objects.filter(pk=artwork.pk).throw_away()
    assert art_of(user).pk == artwork.pk and art_of(user).binned is None


def test_after_thirty_days_a_piece_goes_and_then_its_files(user, rng):
    texture = shelf.upload(user, "a.png", png(rng.integers(0, 256, (20, 20, 3), dtype="uint8")))
    document = piece(mark(treatment=[step("wear", texture=texture.ref)]))
    made = actions.start(user, load(document.model_dump(mode="json")))
    for rows in (Piece.objects, Texture.objects):
        rows.filter(owner=user).update(binned=timezone.now() - KEPT + timedelta(hours=1))
    sweep()
    assert Piece.objects.filter(pk=made.pk).exists()
    Piece.objects.filter(pk=made.pk).update(binned=timezone.now() - KEPT - timedelta(hours=1))
    sweep()
    assert not Piece.objects.filter(pk=made.pk).exists() and Texture.objects.filter(pk=texture.pk)
    Texture.objects.filter(pk=texture.pk).update(binned=timezone.now() - KEPT - timedelta(hours=1))
    sweep()
    assert not Texture.objects.filter(pk=texture.pk).exists()
    path = assets().path(texture.hash)
    assert path.exists() and Unnamed.objects.filter(hash=texture.hash).exists()
    aged(texture.hash)
    later(texture.hash, days=6)
    sweep()
    assert path.exists()
    later(texture.hash)
    sweep()
    assert not path.exists() and not Unnamed.objects.filter(hash=texture.hash).exists()


def test_what_a_state_names_keeps_its_row_and_file_however_old(user, change, worked):
    """Undone, in the bin, thirty days over: the piece's history still needs it."""
    artwork = art_of(user)
    shown = mark(artwork.art.model_dump(mode="json"))
    change(1, [{"op": "add_mark", "mark": shown}])
    actions.undo(Piece.objects.get(pk=worked.pk), 2)
    Artwork.objects.filter(pk=artwork.pk).update(binned=timezone.now() - 2 * KEPT)
    sweep()
    aged(artwork.hash)
    assert Artwork.objects.filter(pk=artwork.pk).exists()
    assert not Unnamed.objects.filter(hash=artwork.hash).exists()
    actions.redo(Piece.objects.get(pk=worked.pk), 3)


def test_what_only_a_firing_names_stays(user, rng):
    texture = shelf.upload(user, "b.png", png(rng.integers(0, 256, (20, 20, 3), dtype="uint8")))
    document = piece(mark(treatment=[step("wear", texture=texture.ref)]))
    made = actions.start(user, load(document.model_dump(mode="json")))
    firings.ask(made, True)
    made.delete()
    texture.delete()
    sweep()
    assert not Unnamed.objects.filter(hash=texture.hash).exists()


def test_a_file_that_is_wanted_again_is_left(user):
    name = assets().keep(b"a file that nothing names")
    sweep()
    aged(name)
    later(name)
    assets().keep(b"a file that nothing names")  # its row is about to be written
    sweep()
    assert assets().path(name).exists()


def test_a_stroke_file_that_no_state_names_goes_with_its_row(user):
    from kilnmark.pieces.models import StrokeFile

    name = assets().keep(b"strokes")
    StrokeFile.objects.create(owner=user, hash=name)
    sweep()
    aged(name)
    later(name)
    sweep()
    assert not assets().path(name).exists() and not StrokeFile.objects.exists()
