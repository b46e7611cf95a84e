"""The shelf: batches, facts, searching, what is said of a texture, throwing away."""

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from scipy import ndimage

from kilnmark.shelf import actions as shelf
from kilnmark.shelf.models import Texture
from tests.pdfs import TWO
from tests.pictures import array, jpeg, png

pytestmark = pytest.mark.django_db(transaction=True)
SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="60" height="60">'
    b'<circle cx="20" cy="20" r="9"/><script>x()</script></svg>'
)


def bring_in(client, data, name="Rust.png", **told):
    return client.post(
        reverse("shelf-bring-in"),
        {"file": SimpleUploadedFile(name, data), **told},
        headers={"accept": "application/json"},
    )


def noise(rng, side=60):
    return rng.integers(0, 256, (side, side, 3), dtype=np.uint8)


def names(page):
    found = page.content.decode().split('<span class="name">')[1:]
    return [one.split("</a>")[0].rsplit(">", 1)[1] for one in found]


def test_each_of_a_batch_keeps_what_was_asked_once(signed_in, user, rng):
    told = {
        "credit": "Hollin Quay",
        "licence": "CC BY 4.0",
        "source": "the drawing office",
        "owed": "on",
        "tags": "rust, hull",
    }
    for name in ("a-rusty_plate.png", "b.png"):
        assert bring_in(signed_in, png(noise(rng)), name, **told).json()["known"] is False
    first = Texture.objects.get(name="a rusty plate")
    assert (first.credit, first.licence, first.owed) == ("Hollin Quay", "CC BY 4.0", True)
    assert first.tag_list == ["rust", "hull"] and first.source == "the drawing office"


def test_a_refused_file_keeps_nothing_and_stops_no_other(signed_in, rng):
    good = png(noise(rng))
    answers = [bring_in(signed_in, data) for data in (good, b"not a picture", good[:900], good)]
    assert [one.status_code for one in answers] == [200, 422, 422, 200]
    assert answers[3].json()["known"] is True and Texture.objects.count() == 1
    assert "neither an SVG, a PDF nor" in answers[1].json()["message"]


def test_a_pdf_is_no_texture(signed_in):
    answer = bring_in(signed_in, TWO, "bill.pdf")
    assert answer.status_code == 422 and "as a mark" in answer.json()["message"]
    assert not Texture.objects.exists()


def test_a_drawing_is_made_safe_and_measured(signed_in):
    from kilnmark.storage import assets

    assert bring_in(signed_in, SVG, "flakes.svg").status_code == 200
    texture = Texture.objects.get()
    kept = assets().data(texture.hash)
    assert b"script" not in kept and b"circle" in kept
    assert texture.measured and (texture.width, texture.height) == (2048, 2048)
    found = array(shelf.sample(texture))
    assert found.shape[:2] == (480, 480)


def test_facts_are_measured_and_said_in_words(signed_in, rng):
    soft = ndimage.gaussian_filter(rng.random((400, 500)), 3)
    soft = (soft - soft.min()) / np.ptp(soft) * np.linspace(1, 0.4, 500)
    bring_in(signed_in, jpeg(np.rint(soft * 255).astype(np.uint8)), "wall.jpg")
    page = signed_in.get(reverse("shelf")).content.decode()
    assert "500 × 400 px, 42 × 34 mm" in page
    assert "Lit from the left: flatten it before masking." in page
    assert "enough for 34 mm at 300 ppi" in page
    told = signed_in.get(reverse("texture", args=[Texture.objects.get().pk])).content.decode()
    assert "Near black, white" in told and "Largest print" in told


def test_textures_of_an_earlier_version_are_measured_once(user, scan):
    Texture.objects.update(facts={"width": 3})
    assert Texture.objects.get().measured is None
    assert shelf.measure_anew() == 1 and shelf.measure_anew() == 0
    assert Texture.objects.get().measured.width == 80


def test_searched_filtered_and_sorted(signed_in, user, rng):
    bold = np.where(rng.random((90, 90)) > 0.5, 250, 3).astype(np.uint8)
    calm = rng.integers(110, 150, (900, 900), dtype=np.uint8)
    shelf.upload(user, "bold.png", png(bold), tags="mask, specks")
    shelf.upload(user, "calm.png", png(calm), credit="Hollin")
    page = signed_in.get(reverse("shelf"))
    assert names(page) == ["calm", "bold"]
    for query, wanted in (
        ("?sort=name", ["bold", "calm"]),
        ("?sort=contrast", ["bold", "calm"]),
        ("?sort=size", ["calm", "bold"]),
        ("?good-for=fill", ["calm"]),
        ("?q=hollin", ["calm"]),
        ("?tag=specks", ["bold"]),
        ("?q=bold+specks", ["bold"]),
        ("?q=nothing", []),
        ("?favourites=1", []),
        ("?sort=../etc&good-for=%00&way=x", ["calm", "bold"]),
    ):
        assert names(signed_in.get(reverse("shelf") + query)) == wanted, query
    row = Texture.objects.get(name="bold")
    signed_in.post(reverse("texture-favourite", args=[row.pk]))
    assert names(signed_in.get(reverse("shelf") + "?favourites=1")) == ["bold"]


def test_samples_at_true_pixels_and_at_one_scale(signed_in, user, rng):
    texture = shelf.upload(user, "a.png", png(noise(rng, 600)))
    url = reverse("texture-sample", args=[texture.pk, texture.sample_key])
    assert array(signed_in.get(url).content).shape[:2] == (480, 480)
    assert array(signed_in.get(url + "?span").content).shape[:2] == (300, 300)
    page = signed_in.get(reverse("shelf") + "?way=span").content.decode()
    assert 'data-wide="62.5"' in page  # of 960 px


def test_what_is_said_of_a_texture_is_kept(signed_in, scan):
    url = reverse("texture", args=[scan.pk])
    told = {"name": "Quay, wet", "credit": "A", "licence": "B", "source": "C", "tags": "d"}
    assert signed_in.post(url, told).status_code == 302
    row = Texture.objects.get()
    assert (row.name, row.source, row.tags) == ("Quay, wet", "C", "d")
    assert signed_in.post(url, {**told, "name": ""}).status_code == 200
    assert Texture.objects.get().name == "Quay, wet"


def test_before_a_used_texture_goes_it_says_where_it_is_used(signed_in, worked, scan):
    page = signed_in.get(reverse("shelf")).content.decode()
    assert reverse("texture-away", args=[scan.pk]) in page and "on 1 piece" in page
    asked = signed_in.get(reverse("texture-away", args=[scan.pk])).content.decode()
    assert worked.title in asked and "which keep it" in asked
    signed_in.post(reverse("throw-away", args=["texture", scan.pk]))
    assert signed_in.get(reverse("bench", args=[worked.pk])).status_code == 200
    assert Texture.objects.get().binned


def test_what_was_made_before_is_not_made_again(user, django_user_model, monkeypatch):
    """By whomever: it would be the same to the bit. Its file must be there."""
    from kilncore.textures import makers
    from kilnmark.storage import assets

    other = django_user_model.objects.create_user("deckhand", password="hawser-and-fender")
    told = ("grunge", "Quay", 64, 64, 5, {"amount": 0.4})
    first = shelf.make(other, *told)
    Texture.objects.filter(pk=first.pk).update(
        name="Theirs", credit="For nobody else", licence="Private", tags="secret", tiles=False
    )
    made = []
    make = makers.make
    monkeypatch.setattr(makers, "make", lambda *a: made.append(a) or make(*a))
    mine = shelf.make(user, *told)
    assert not made and mine.owner == user and mine.hash == first.hash and mine.pk != first.pk
    assert mine.facts == first.facts and mine.settings == first.settings and mine.tiles
    assert (mine.name, mine.credit, mine.licence, mine.tags) == ("Quay", "Made here", "Yours", "")
    assert shelf.make(user, *told).pk == mine.pk
    shelf.make(user, "grunge", "Quay", 64, 64, 6, {"amount": 0.4})
    assert len(made) == 1
    assets().path(first.hash).unlink()
    assert shelf.make(user, *told).hash == first.hash and len(made) == 2
