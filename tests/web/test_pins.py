"""Pinned versions."""

import pytest
from django.urls import reverse

from kilnmark.pieces.models import Piece
from kilnmark.pins.models import Pin
from tests.pictures import array
from tests.web.flat import flat

pytestmark = pytest.mark.django_db(transaction=True)


def pin(post, worked, version=1, name="as it was"):
    return post(reverse("piece-pin", args=[worked.pk]), {"version": version, "name": name})


def test_a_version_is_pinned_changed_and_come_back_to(post, signed_in, change, worked):
    page = flat(pin(post, worked))
    assert "as it was" in page and "as it is now" in page
    change(1, [{"op": "set", "path": ["title"], "value": "Another"}])
    kept = Pin.objects.get()
    assert array(signed_in.get(reverse("pin-picture", args=[kept.pk])).content).size
    answer = post(reverse("pin-restore", args=[kept.pk]), {"version": 2})
    row = Piece.objects.get(pk=worked.pk)
    assert answer.json()["version"] == 3 and row.document == worked.document
    assert answer.json()["undo"] == "Back to “as it was”"
    post(reverse("undo", args=[worked.pk]), {"version": 3})
    assert Piece.objects.get(pk=worked.pk).document.title == "Another"


def test_a_stale_one_is_refused_and_one_sent_twice_is_applied_once(post, change, worked):
    assert pin(post, worked, 7).status_code == 409 and not Pin.objects.exists()
    pin(post, worked)
    change(1, [{"op": "set", "path": ["title"], "value": "Another"}])
    url = reverse("pin-restore", args=[Pin.objects.get().pk])
    assert post(url, {"version": 1}).status_code == 409
    for _ in range(2):
        assert post(url, {"version": 2, "token": "abcdefgh-1"}).status_code == 200
    assert Piece.objects.get(pk=worked.pk).version == 3


def test_unpinned_it_lies_in_the_bin_and_comes_back(post, signed_in, worked):
    pin(post, worked)
    kept = Pin.objects.get()
    assert "No version is pinned" in post(reverse("pin-unpin", args=[kept.pk]), {}).content.decode()
    assert post(reverse("pin-restore", args=[kept.pk]), {"version": 1}).status_code == 404
    assert "as it was" in signed_in.get(reverse("bin")).content.decode()
    signed_in.post(reverse("fetch-back", args=["pin", kept.pk]))
    assert "as it was" in signed_in.get(reverse("piece-pins", args=[worked.pk])).content.decode()


def test_a_version_with_its_step_off_has_no_readings_of_it(signed_in, worked):
    item = worked.document.stack[0]
    step = next(one for one in item.treatment if one.kind == "wear")
    asked = {"part": item.id, "step": step.id}
    url = reverse("piece-seen-readings", args=[worked.pk, worked.head_id])
    assert "Taken away" in signed_in.get(url, asked).content.decode()
    for without in (step.id, "treatments"):
        assert "Taken away" not in signed_in.get(url, asked | {"without": without}).content.decode()
    assert signed_in.get(url, asked | {"without": "nothing of it"}).status_code == 200


def test_names_and_how_many(post, worked):
    assert "Version 1" in pin(post, worked, name="  ").content.decode()
    for _ in range(59):
        pin(post, worked)
    assert pin(post, worked).status_code == 422
