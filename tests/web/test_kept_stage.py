"""What outlives a picture of the stage: exact ones on disk, drafts that are got ready, and memory
that is given back.
"""

import numpy as np
import pytest
from django.urls import reverse

from kilncore.errors import Superseded
from kilncore.system.cache import ByteCache
from kilnmark import idling
from kilnmark.bench import at_rest, pictures
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
