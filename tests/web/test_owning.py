"""Whose is what: every object answers 404 to others, and every page wants a sign-in, a token and a
strict policy.
"""

import pytest
from django.test import Client
from django.urls import get_resolver, reverse

from kilnmark.firings import actions as firings
from kilnmark.pins import actions as pins
from kilnmark.preps import actions as preps

pytestmark = pytest.mark.django_db


PREP_PAGES = (
    "sheet",
    "picture",
    "trial",
    "source",
    "ready",
    "file",
    "sample",
    "uses",
    "everywhere",
)
DIRECTIONS = ("put", "mix", "reseed", "let-go", "go-on")
ON_SHELF = ("change", "undo", "redo", "rename")


def addresses(worked, scan, firing):
    first = worked.document.stack[0].id
    of_piece, of_texture = {"piece_id": worked.pk}, {"texture_id": scan.pk}
    of_prep = {"prep_id": preps.start(scan).pk}
    of_pin = {"pin_id": pins.pin(worked, "as it was").pk}
    return {
        **{name: of_texture for name in ("texture", "texture-favourite", "texture-away")},
        **{name: of_texture for name in ("prep-newest", "prep-start")},
        **{name: of_prep for name in ("prep", *(f"prep-{one}" for one in PREP_PAGES + ON_SHELF))},
        **{name: of_piece for name in ("prep-use", *(f"prep-use-{one}" for one in PREP_PAGES))},
        "prep-keep": of_piece,
        "tried": of_piece,
        **{name: of_piece for name in ("piece-pins", "piece-pin")},
        **{name: of_pin for name in ("pin-picture", "pin-restore", "pin-unpin")},
        "piece-tryouts": of_piece,
        "piece-readings": of_piece,
        "piece-card": {**of_piece, "key": "k"},
        "piece-duplicate": of_piece,
        "uses": of_piece,
        "replace-everywhere": of_piece,
        "throw-away": {"kind": "piece", "key": str(worked.pk)},
        "fetch-back": {"kind": "texture", "key": str(scan.pk)},
        "face-sample": {"ref": "0" * 64},
        "face-file": {"ref": "0" * 64},
        "bench": of_piece,
        "strip": of_piece,
        "sheet": of_piece,
        "strip-picture": {**of_piece, "part": first, "number": 1, "key": "k"},
        "stage": of_piece,
        "lifted": of_piece,
        "change": of_piece,
        "piece-snapshot": of_piece,
        "undo": of_piece,
        "redo": of_piece,
        "add-lettering": of_piece,
        "bring-in": of_piece,
        "picture-source": of_piece,
        "piece-versions": of_piece,
        "piece-seen": {**of_piece, "state_id": worked.head_id},
        "piece-seen-readings": {**of_piece, "state_id": worked.head_id},
        "piece-tones": of_piece,
        "piece-tone": of_piece,
        "piece-colours": of_piece,
        "held-back": of_piece,
        "piece-strokes": of_piece,
        "piece-edge": of_piece,
        "strokes-keep": of_piece,
        "texture-tip": of_texture,
        "texture-tip-tried": of_texture,
        "texture-whole": of_texture,
        "tip-picture": {**of_piece, "name": "cork"},
        "tip-pixels": {**of_piece, "name": "cork"},
        "piece-apart": of_piece,
        "piece-history": of_piece,
        "piece-state-picture": {**of_piece, "state_id": worked.head_id},
        "piece-state-restore": {**of_piece, "state_id": worked.head_id},
        "recipe-keep": of_piece,
        "document-file": of_piece,
        "fire": of_piece,
        "directions": of_piece,
        **{f"direction-{name}": of_piece for name in DIRECTIONS},
        "directions-fire": of_piece,
        "piece-start-as": {"artwork_id": 7},
        "artwork-knocked-out": {"artwork_id": 7},
        "page-picture": {"artwork_id": 7, "number": 0},
        "texture-sample": {"texture_id": scan.pk, "key": "k"},
        "firing-status": {"firing_id": firing.pk},
        "firing-stop": {"firing_id": firing.pk},
        "firing-file": {"firing_id": firing.pk},
    }


POSTED = {
    *(f"prep-{name}" for name in ("picture", "trial", "everywhere", "keep", "start", *ON_SHELF)),
    *(f"prep-use-{name}" for name in ("picture", "trial", "everywhere")),
    *(f"direction-{name}" for name in DIRECTIONS),
    "directions-fire",
    "texture-favourite",
    "piece-pin",
    "piece-seen",
    "piece-apart",
    "held-back",
    "strokes-keep",
    "texture-tip",
    "recipe-keep",
    "piece-state-restore",
    "pin-restore",
    "pin-unpin",
    "piece-duplicate",
    "replace-everywhere",
    "throw-away",
    "fetch-back",
    "stage",
    "lifted",
    "change",
    "undo",
    "redo",
    "add-lettering",
    "bring-in",
    "fire",
    "firing-stop",
}


def named(resolver):
    for pattern in resolver.url_patterns:
        if hasattr(pattern, "url_patterns"):
            yield from named(pattern)
        else:
            yield pattern.name, pattern.pattern.converters


def test_every_object_is_its_owners_alone(worked, scan, stranger):
    firing = firings.ask(worked, True)
    known = addresses(worked, scan, firing)
    prefixed = {name for name, _ in named(get_resolver()) if name}
    assert {n for n in prefixed if "piece" in n or "firing" in n or n in POSTED} - {
        "pieces",
        "piece-start",
        "piece-start-from",
        "firings",
    } <= set(known)
    for name, arguments in known.items():
        send = stranger.post if name in POSTED else stranger.get
        assert send(reverse(name, kwargs=arguments)).status_code == 404, name
    worked.refresh_from_db()
    assert worked.version == 1


def test_without_a_sign_in_nothing_is_shown(worked, scan):
    firing = firings.ask(worked, True)
    for name, arguments in {
        **addresses(worked, scan, firing),
        "pieces": {},
        "shelf": {},
        "makers": {},
        "firings": {},
    }.items():
        client = Client()
        response = (client.post if name in POSTED else client.get)(reverse(name, kwargs=arguments))
        assert response.status_code == 302 and "sign-in" in response["location"], name


def test_posts_want_a_token(user, worked):
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(user)
    assert (
        strict.post(
            reverse("undo", args=[worked.pk]), "{}", content_type="application/json"
        ).status_code
        == 403
    )


@pytest.mark.parametrize("name", ["pieces", "piece-start", "shelf", "makers", "firings", "login"])
def test_every_page_has_a_strict_policy_and_nothing_inline(signed_in, worked, name):
    for url in (reverse(name), reverse("bench", args=[worked.pk])):
        response = signed_in.get(url)
        policy = response["content-security-policy"]
        assert (
            "script-src 'self'" in policy
            and "unsafe" not in policy
            and "default-src 'none'" in policy
        )
        page = response.content.decode()
        assert " style=" not in page and "onclick" not in page and "javascript:" not in page
        assert "http://" not in page.replace("http://www.w3.org", "") and "https://" not in page


def test_another_ones_texture_cannot_be_named(django_user_model, worked, scan):
    """A hash that is known but not one's own is as good as none."""
    from kilncore.errors import KilnError
    from kilnmark.pieces import actions

    other = django_user_model.objects.create_user("other")
    with pytest.raises(KilnError, match="not yours"):
        actions.start(other, worked.document)


def test_a_draft_cannot_name_another_ones_texture(post, worked, django_user_model, rng):
    import numpy as np

    from kilnmark.shelf import actions as shelf
    from tests.pictures import png

    other = django_user_model.objects.create_user("other")
    foreign = shelf.upload(other, "x.png", png(rng.integers(0, 9, (40, 40), dtype=np.uint8)))
    fill = {"op": "set", "path": ["ground", "fill", "texture"], "value": foreign.ref}
    view = {"x": 0, "y": 0, "width": 40, "height": 40, "scale": 1}
    response = post(
        reverse("stage", args=[worked.pk]), {"version": 1, "edits": [fill], "view": view}
    )
    assert response.status_code == 422 and "not yours" in response.json()["message"]
