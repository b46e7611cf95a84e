"""What outlives a picture of the stage: exact ones on disk, drafts that are got ready, and memory
that is given back.
"""

import time

import numpy as np
import pytest
from django.urls import reverse

from kilncore.engine.shown import Looked
from kilncore.errors import Superseded
from kilncore.pixels.vips import from_bytes
from kilncore.system.cache import ByteCache
from kilnmark import idling
from kilnmark.bench import at_rest, first, pictures
from kilnmark.storage import assets

pytestmark = pytest.mark.django_db
VIEW = {"x": 0, "y": 0, "width": 400, "height": 300, "scale": 0.5}


@pytest.fixture
def ask(post, worked):
    def send(quality="exact", **more):
        asked = {"version": 1, "view": VIEW, "quality": quality, **more}
        return post(reverse("stage", args=[worked.pk]), asked)

    return send


@pytest.fixture
def drawn(monkeypatch):
    """How often the stage was drawn; nothing is got ready meanwhile."""
    times, draw = [], pictures.engine.pixels
    monkeypatch.setattr(
        pictures.engine, "pixels", lambda *given, **how: times.append(1) or draw(*given, **how)
    )
    monkeypatch.setattr(at_rest, "get_ready", lambda *given: None)
    return times


def test_an_exact_picture_is_drawn_once_and_does_for_a_draft(ask, drawn):
    for kept in at_rest.exact_pictures().folder.iterdir():
        kept.unlink()
    first = ask()
    assert first.status_code == 200 and len(drawn) == 1
    for quality in ("exact", "draft"):
        again = ask(quality)
        assert again.content == first.content and again["Content-Type"] == "image/png"
    assert len(drawn) == 1


def test_another_view_and_a_change_that_is_not_stored_are_drawn(ask, drawn):
    ask()
    folder = at_rest.exact_pictures().folder
    kept, before = len(list(folder.iterdir())), len(drawn)
    assert ask(view=VIEW | {"width": 300}).status_code == 200
    assert len(list(folder.iterdir())) == kept + 1
    edit = {"op": "set", "path": ["ppi"], "value": 150}
    assert ask(edits=[edit]).status_code == 200
    assert len(drawn) == before + 2 and len(list(folder.iterdir())) == kept + 1


def test_a_picture_is_its_owners_and_goes_with_its_files(worked, user):
    view = at_rest.View((0, 0, 400, 300), 0.5)
    mine, another = (
        at_rest.key_of_exact(one, worked.document, view, None) for one in (user.pk, user.pk + 1)
    )
    assert mine and another and mine != another
    name = worked.document.ground.fill.texture.hash
    path = assets().path(name)
    content = path.read_bytes()
    path.unlink()
    try:
        assert at_rest.key_of_exact(user.pk, worked.document, view, None) is None
    finally:
        path.write_bytes(content)


def test_a_draft_is_got_ready_at_rest(worked, monkeypatch):
    """Once for a scale, and by one at a time; what was given up is got ready another time."""
    asked = []
    monkeypatch.setattr(pictures.engine, "pixels", lambda *given, **how: asked.append(how))
    view, recall = at_rest.View((0, 0, 400, 300), 0.5), pictures.recall_of(worked.pk)
    at_rest._READYING.acquire()
    at_rest.get_ready(worked.document, view, lambda: False, recall)
    at_rest._READYING.release()
    at_rest.get_ready(worked.document, at_rest.View((0, 0, 400, 300), 1.0), None, recall)
    assert not asked
    at_rest.get_ready(worked.document, view, lambda: False, recall)
    assert at_rest._READYING.acquire(timeout=10)
    at_rest._READYING.release()
    at_rest.get_ready(worked.document, view, lambda: False, recall)
    assert len(asked) == 1 and not asked[0]["moving"] and asked[0]["patience"] > 0

    def given_up(*given, **how):
        asked.append(how)
        raise Superseded

    monkeypatch.setattr(pictures.engine, "pixels", given_up)
    for _ in range(2):
        at_rest.get_ready(worked.document, at_rest.View((0, 0, 400, 300), 0.4), None, recall)
        assert at_rest._READYING.acquire(timeout=10)
        at_rest._READYING.release()
    assert len(asked) == 3


def test_memory_is_given_back():
    cache = ByteCache(1_000_000)
    for n in range(9):
        cache.put(n, np.zeros(100_000, np.uint8))
    idling.give_back()
    assert cache.nbytes <= 250_000 and 8 in cache


def test_marks_lifted_off_the_piece(post, worked):
    """What lies beneath, as large as the view, and below it the cut-out."""
    held, url = worked.document.stack[0].id, reverse("lifted", args=[worked.pk])
    asked = {"version": 1, "view": VIEW, "marks": [held]}
    both = from_bytes(post(url, asked).content).numpy()
    assert both.shape == (2 * 150, 200, 4)
    beneath, cut_out = both[:150], both[150:]
    assert (beneath[..., 3] == 255).all()
    assert (cut_out[..., 3] == 0).any() and (cut_out[..., 3] > 100).any()
    assert post(url, asked | {"version": 7}).status_code == 409
    for marks in ([], ["nobody"], [held] * 500):
        refused = post(url, asked | {"marks": marks})
        assert refused.status_code == 422 and refused.json()["message"]


def test_after_a_restart_the_kept_picture_is_what_was_shown(ask, worked):
    """A draft is laid over it, as if it had been drawn."""
    shown = from_bytes(ask().content).numpy()
    pictures.recall_of.cache.clear()
    ask()
    looked = Looked((0, 0, 400, 300), 0.5)
    piece, pixels = pictures.recall_of(worked.pk).shown.before(looked)
    np.testing.assert_array_equal(pixels, shown)
    assert piece == worked.document


def test_small_pictures_wait_a_moment_for_the_stage():
    begun = time.monotonic()
    with first.shown_first("piece"):
        first.let_by("another")
        assert time.monotonic() - begun < 0.5
        first.let_by("piece", 0.2)
        assert time.monotonic() - begun >= 0.2
    first.let_by("piece", 60)
    assert time.monotonic() - begun < 30


def test_what_lies_freed_is_given_back_while_one_works(monkeypatch):
    told = {"resident": 900, "released": 0}

    def released():
        told["released"] += 1
        told["resident"] = 400

    monkeypatch.setattr(idling, "held", lambda: 100)
    monkeypatch.setattr(idling, "FREED_AT_MOST", 300)
    monkeypatch.setattr(idling.pool, "idle_seconds", lambda: 0)
    monkeypatch.setattr(idling.allocator, "resident", lambda: told["resident"])
    monkeypatch.setattr(idling.allocator, "release_freed", released)
    watch = idling.Idling()
    for resident, count in ((1000, 0), (1300, 1), (650, 1), (750, 2)):
        told["resident"] = resident
        watch.look()
        assert told["released"] == count
