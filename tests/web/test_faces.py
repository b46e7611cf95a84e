"""Faces: pictures of the user's own words, own fonts, and whose they are."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from kilncore.typesetting.shipped import FONTS, SHIPPED
from kilnmark.faces import actions
from kilnmark.faces.models import Font
from kilnmark.storage import assets
from tests.core.test_font_intake import HOSTILE, built
from tests.documents import lettering, mark
from tests.web.flat import flat

pytestmark = pytest.mark.django_db


@pytest.fixture
def own(user):
    return actions.bring_in(user, built("GULAB", fsType=0x4))


def test_every_face_is_a_picture_of_the_words(signed_in):
    page = signed_in.get(reverse("face-choices"), {"text": "Night & day", "font": "rye"})
    shown = flat(page)
    assert shown.count("<img") == len(FONTS) and "Night%20%26%20day" in shown
    assert 'data-face="rye" aria-pressed="true"' in shown
    pictures = set()
    for name in FONTS:
        answer = signed_in.get(reverse("face-sample", args=[name]), {"text": "Night & day"})
        assert answer["content-type"] == "image/png" and answer.content[:4] == b"\x89PNG"
        pictures.add(answer.content)
    assert len(pictures) == len(FONTS)


@pytest.mark.parametrize("text", ["", " ", "\x00", "🚢", "x" * 900, "שלום 12", "\u202e"])
def test_whatever_the_words_there_is_a_picture(signed_in, text):
    answer = signed_in.get(reverse("face-sample", args=["anton"]), {"text": text})
    assert answer.status_code == 200 and answer.content[:4] == b"\x89PNG"


def upload(client, *files):
    sent = [SimpleUploadedFile(name, data) for name, data in files]
    return client.post(
        reverse("face-upload"),
        {"file": sent, "text": "GULL"},
        headers={"Accept": "application/json"},
    )


def test_a_font_is_brought_in_named_and_its_rights_told(signed_in, user):
    answer = upload(signed_in, ("harbour.ttf", built("GULAB", fsType=0x2)))
    shown = answer.content.decode()
    assert answer.status_code == 200 and "Harbour Bold" in shown and "Must not be embedded" in shown
    font = user.fonts.get()
    assert assets().data(font.hash)[:4] == b"\0\1\0\0" and "data-newest" in shown


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_fonts_keep_nothing(signed_in, user, name):
    answer = upload(signed_in, ("harbour.ttf", HOSTILE[name]))
    assert answer.status_code == 422 and answer.json()["message"].endswith(".")
    assert not Font.objects.exists()


def test_words_are_set_in_it_and_it_is_fired(change, worked, own):
    art = lettering("GULL", font=own.hash)
    answer = change(1, [{"op": "add_mark", "mark": mark(art)}])
    assert answer.status_code == 200
    assert answer.json()["document"]["stack"][-1]["art"]["font"] == own.hash


def test_the_sheet_shows_its_name_and_its_rights(signed_in, change, worked, own):
    told = change(1, [{"op": "add_mark", "mark": mark(lettering("GULL", font=own.hash))}]).json()
    asked = {"part": told["document"]["stack"][-1]["id"], "step": "bare"}
    shown = signed_in.get(reverse("sheet", args=[worked.pk]), asked).content.decode()
    assert "Harbour Bold" in shown and "viewing and print" in shown


def test_axes_and_forms_are_offered_where_a_face_has_them(signed_in, change, worked):
    for font, axes, forms in (("fraunces", True, True), ("rye", False, False)):
        version = type(worked).objects.get(pk=worked.pk).version
        told = change(
            version, [{"op": "add_mark", "mark": mark(lettering("GULL", font=font))}]
        ).json()
        asked = {"part": told["document"]["stack"][-1]["id"], "step": "bare"}
        shown = signed_in.get(reverse("sheet", args=[worked.pk]), asked).content.decode()
        assert ('data-axis="wght"' in shown) is axes and ('data-feature="' in shown) is forms


def test_nobody_gets_at_anothers_font(signed_in, stranger, own, worked):
    for page in ("face-sample", "face-file"):
        assert signed_in.get(reverse(page, args=[own.hash])).status_code == 200
        assert stranger.get(reverse(page, args=[own.hash])).status_code == 404
    shown = stranger.get(reverse("face-choices")).content.decode()
    assert own.hash not in shown


def test_a_piece_names_only_ones_own_fonts(change, worked, own, django_user_model):
    other = django_user_model.objects.create_user("other", password="hawser-and-fender")
    theirs = actions.bring_in(other, built("GULX"))
    answer = change(1, [{"op": "add_mark", "mark": mark(lettering("GULL", font=theirs.hash))}])
    assert answer.status_code == 422 and "not yours" in answer.json()["message"]


def test_a_texture_is_no_font(change, worked, scan):
    answer = change(1, [{"op": "add_mark", "mark": mark(lettering("GULL", font=scan.hash))}])
    assert answer.status_code == 422
    worked.refresh_from_db()
    assert worked.version == 1


def test_shipped_faces_are_handed_to_the_browser(signed_in):
    for face in SHIPPED[:3]:
        answer = signed_in.get(reverse("face-file", args=[face.name]))
        assert b"".join(answer.streaming_content) == face.path.read_bytes()
    assert signed_in.get(reverse("face-file", args=["no-such-face"])).status_code == 404


HOSTILE_WORDS = [
    "\ud800",
    "\x00\x01\x1b[31m",
    "🚢" * 500,
    "\u202e\u2066" * 250,
    "e" + "\u0301" * 499,
    "שלום 12,5% (x) " * 33,
    "\n" * 500,
    "x" * 501,
    "\ufdfd" * 500,
]


@pytest.mark.parametrize("text", HOSTILE_WORDS, ids=range(len(HOSTILE_WORDS)))
def test_whatever_words_are_typed_they_are_stored_or_refused_in_words(change, post, worked, text):
    """And the piece opens afterwards."""
    path = ["stack", worked.document.stack[0].id, "art", "text"]
    answer = change(1, [{"op": "set", "path": path, "value": text}])
    assert answer.status_code in (200, 422) and (
        answer.status_code == 200 or answer.json()["message"]
    )
    added = post(
        reverse("add-lettering", args=[worked.pk]),
        {"version": answer.json().get("version", 1), "text": text},
    )
    assert added.status_code in (200, 422)


def test_the_piece_still_opens_with_hostile_words(signed_in, change, worked):
    path = ["stack", worked.document.stack[0].id, "art", "text"]
    for version, text in enumerate(HOSTILE_WORDS[1:7], 1):
        told = change(version, [{"op": "set", "path": path, "value": text}])
        assert told.status_code == 200, told.json()
        asked = {"part": path[1], "step": "bare"}
        assert signed_in.get(reverse("sheet", args=[worked.pk]), asked).status_code == 200
        assert signed_in.get(reverse("bench", args=[worked.pk])).status_code == 200


def test_a_piece_of_nothing_or_two_hundred_megapixels_is_an_answer_in_words(change, worked):
    for edit in (
        {"op": "trim_piece", "left": -400},
        {"op": "scale_piece", "width": 1},
        {"op": "scale_piece", "width": 20_000},
        {"op": "trim_piece", "right": 19_000, "bottom": 19_000},
        {"op": "set_ppi", "ppi": 1e9},
    ):
        answer = change(1, [edit])
        assert answer.status_code == 422 and answer.json()["message"]
    worked.refresh_from_db()
    assert worked.version == 1


def test_a_piece_whose_font_is_gone_opens_and_is_given_another(signed_in, change, worked, own):
    """A damaged data folder: nothing else of the piece is lost by it."""
    from kilncore.typesetting import fonts, laid_out

    told = change(1, [{"op": "add_mark", "mark": mark(lettering("GULL", font=own.hash))}]).json()
    name = told["document"]["stack"][-1]["id"]
    assets().path(own.hash).unlink()
    fonts._READ.drop((own.hash, ()))
    laid_out.laid_out.cache_clear()
    laid_out.edges_laid_out.cache_clear()
    assert signed_in.get(reverse("bench", args=[worked.pk])).status_code == 200
    asked = {"part": name, "step": "bare"}
    shown = signed_in.get(reverse("sheet", args=[worked.pk]), asked)
    assert shown.status_code == 200 and "is not there" in shown.content.decode()
    path = ["stack", name, "art", "font"]
    assert change(2, [{"op": "set", "path": path, "value": "anton"}]).status_code == 200
