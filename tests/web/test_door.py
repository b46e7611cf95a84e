"""Requests that mean harm, or nothing: each ends in a refusal in words, as JSON, and leaves all as
it was.
"""

import json
import zlib

import pytest
from django.test import Client
from django.urls import reverse

from kilnmark.pieces import actions
from kilnmark.pieces.models import Piece, State
from tests.web.flat import flat

pytestmark = pytest.mark.django_db
DEEP = b"[" * 100_000
SURROGATE = b'"\\ud800"'
CHANGES = {
    "nested deep": b'{"version": 1, "edits": ' + DEEP + b"}",
    "an operation that is a list": b'{"version": 1, "edits": [{"op": ["set"], "path": ["ppi"], "value": 1}]}',  # noqa: E501
    "a kind that is a list": b'{"version": 1, "edits": [{"op": "add_step", "part": "piece", "kind": ["wear"]}]}',  # noqa: E501
    "a kind that is a list, set": b'{"version": 1, "edits": [{"op": "set", "path": ["treatment"], "value": [{"kind": ["wear"]}]}]}',  # noqa: E501
    "an endless number": b'{"version": 1, "edits": [{"op": "set", "path": ["ppi"], "value": 1e999}]}',  # noqa: E501
    "an endless place": b'{"version": 1, "edits": [{"op": "add_step", "part": "piece", "kind": "wear", "at": 1e999}]}',  # noqa: E501
    "a huge place": b'{"version": 1, "edits": [{"op": "add_step", "part": "piece", "kind": "wear", "at": '  # noqa: E501
    + b"9" * 4000
    + b"}]}",
    "a lone surrogate in words": b'{"version": 1, "edits": [{"op": "set", "path": ["title"], "value": '  # noqa: E501
    + SURROGATE
    + b"}]}",
    "a lone surrogate in the label": b'{"version": 1, "edits": [], "label": ' + SURROGATE + b"}",
    "a version that is a list": b'{"version": [1], "edits": []}',
    "a huge version": b'{"version": ' + b"9" * 5000 + b"}",
    "a path of lists": b'{"version": 1, "edits": [{"op": "set", "path": [["ppi"]], "value": 1}]}',
    "a path of numbers": b'{"version": 1, "edits": [{"op": "set", "path": ["size_px", 0], "value": 99}]}',  # noqa: E501
    "no version": b'{"edits": []}',
    "more than is asked": b'{"version": 1, "edits": [], "sparkle": 1}',
    "not an object": b"[1]",
    "a mark that is none": b'{"version": 1, "edits": [{"op": "add_mark", "mark": {"kind": {"a": 1}, "placement": 3}}]}',  # noqa: E501
    "not text": b"\xff\xfe\x00",
}


@pytest.fixture
def raw(signed_in):
    return lambda url, body: signed_in.post(
        url, body, content_type="application/json", headers={"accept": "application/json"}
    )


@pytest.mark.parametrize("name", CHANGES)
def test_changes_that_make_no_sense(raw, worked, name):
    response = raw(reverse("change", args=[worked.pk]), CHANGES[name])
    assert response.status_code == 422 and response.json()["message"]
    worked.refresh_from_db()
    assert worked.version == 1 and State.objects.count() == 1


@pytest.mark.parametrize(
    "asked",
    [
        {"point": {"part": ["m"], "number": 1}},
        {"point": {"part": "piece", "number": 10**30}},
        {"point": {"part": "piece"}},
        {"sequence": 1e400},
        {"quality": ["exact"]},
        {"bench": {"a": 1}},
        {"edits": {}},
        {"edits": [[]]},
        {"view": {"x": "nan", "y": 0, "width": 9, "height": 9, "scale": 1}},
    ],
)
def test_pictures_that_make_no_sense(post, worked, asked):
    view = {"x": 0, "y": 0, "width": 40, "height": 40, "scale": 1}
    response = post(reverse("stage", args=[worked.pk]), {"version": 1, "view": view, **asked})
    assert response.status_code == 422 and response.json()["message"]


@pytest.mark.parametrize("name", ["stage", "held-back"])
def test_pictures_of_an_older_state_are_refused_as_stale(change, post, worked, name):
    change(1, [{"op": "set", "path": ["ppi"], "value": 150}])
    view = {"x": 0, "y": 0, "width": 40, "height": 40, "scale": 1}
    part = {"part": worked.document.stack[0].id} if name == "held-back" else {}
    url = reverse(name, args=[worked.pk])
    response = post(url, {"version": 1, "view": view, **part})
    assert response.status_code == 409 and response.json()["reason"] == "stale"
    assert post(url, {"version": 2, "view": view, **part}).status_code == 200


def test_words_and_firings_that_make_no_sense(raw, worked):
    for name, body in (
        ("add-lettering", b'{"version": 1, "text": ["a"]}'),
        ("add-lettering", b'{"version": 1, "text": ' + SURROGATE + b"}"),
        ("fire", b'{"with_ground": "perhaps"}'),
        ("fire", DEEP),
        ("undo", b"{}"),
        ("redo", b'{"version": "1"}'),
    ):
        assert raw(reverse(name, args=[worked.pk]), body).status_code == 422, (name, body[:40])


def test_errors_for_scripts_are_json(signed_in, worked, user, monkeypatch):
    headers = {"accept": "application/json"}
    assert signed_in.get("/nowhere/", headers=headers).json()["message"]
    assert (
        Client()
        .post(reverse("change", args=[worked.pk]), b"{}", content_type="application/json")
        .json()["reason"]
        == "signed-out"
    )
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(user)
    assert (
        strict.post(
            reverse("undo", args=[worked.pk]), "{}", content_type="application/json"
        ).json()["reason"]
        == "signed-out"
    )
    assert signed_in.post(
        reverse("change", args=[worked.pk]), b"x" * (3 * 2**20), content_type="application/json"
    ).json()["message"]
    signed_in.raise_request_exception = False

    def broken(*args, **more):
        raise ZeroDivisionError

    monkeypatch.setattr(actions, "undo", broken)
    response = signed_in.post(
        reverse("undo", args=[worked.pk]), '{"version": 1}', content_type="application/json"
    )
    assert response.status_code == 500 and "safe" in response.json()["message"]


def test_a_change_that_is_sent_twice_is_applied_once(post, worked):
    edit = [{"op": "add_step", "part": "piece", "kind": "grain"}]
    asked = {"version": 1, "edits": edit, "token": "0123456789ab"}
    first, second = (post(reverse("change", args=[worked.pk]), asked).json() for _ in range(2))
    assert first["version"] == second["version"] == 2 and State.objects.count() == 2
    undo = {"version": 2, "token": "undone-once-1"}
    for _ in range(2):
        assert post(reverse("undo", args=[worked.pk]), undo).json()["version"] == 3


def test_a_change_cannot_make_a_document_without_bounds(post, worked):
    """A few hundred kilobytes of edits made a document of 17 MB."""
    url, first = reverse("change", args=[worked.pk]), worked.document.stack[0].id
    version = 1
    for _ in range(12):
        response = post(
            url, {"version": version, "edits": [{"op": "copy_mark", "mark": first}] * 50}
        )
        if response.status_code != 200:
            break
        version = response.json()["version"]
    assert response.status_code == 422 and "at most" in response.json()["message"]
    assert len(list(Piece.objects.get(pk=worked.pk).document.items())) <= 200
    assert len(zlib.decompress(Piece.objects.get(pk=worked.pk).head.compressed)) < 2_000_000


def test_the_page_of_pieces_reads_no_documents(signed_in, worked):
    """One piece that cannot be read, and the page is there all the same."""
    State.objects.filter(pk=worked.head_id).update(compressed=b"broken")
    page = signed_in.get(reverse("pieces"))
    assert page.status_code == 200 and "400 × 300 px" in page.content.decode()
    assert signed_in.get(reverse("bench", args=[worked.pk])).status_code == 422


def test_one_parsed_document_and_one_set_of_graphs_for_a_version(signed_in, worked, monkeypatch):
    """A strip's page and all its pictures parse once and build one plan at each scale."""
    from kilncore.engine import plans
    from kilnmark.bench import pictures
    from kilnmark.pieces import models

    parsed, built, load, plan = [], [], models.load, plans.Plan
    models.READ.drop(worked.head.digest)
    monkeypatch.setattr(pictures, "PICTURES", models.ByteCache(10**8))
    monkeypatch.setattr(models, "load", lambda *a: parsed.append(1) or load(*a))
    monkeypatch.setattr(
        plans, "Plan", lambda piece, scale: built.append(scale) or plan(piece, scale)
    )
    part = worked.document.stack[0].id
    page = flat(signed_in.get(reverse("strip", args=[worked.pk]), {"part": part}))
    drawn, together = [], pictures.engine.together
    monkeypatch.setattr(
        pictures.engine,
        "together",
        lambda wanted, *a: drawn.append(len(wanted)) or together(wanted, *a),
    )
    for address in [part.split('"')[0] for part in page.split('<img src="')[1:]]:
        assert "immutable" in signed_in.get(address)["cache-control"]
    assert len(parsed) == 1 and len(built) == len(set(built)) <= 2
    assert drawn == [len(worked.document.stack[0].treatment) + 2]


def test_an_svg_that_is_refused_as_stale_keeps_nothing(signed_in, worked):
    from django.core.files.uploadedfile import SimpleUploadedFile

    from kilnmark.pieces.models import Artwork

    svg = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 50 50"><circle cx="25" cy="25" r="20"/></svg>'  # noqa: E501
    response = signed_in.post(
        reverse("bring-in", args=[worked.pk]),
        {"file": SimpleUploadedFile("m.svg", svg), "version": 7},
        headers={"accept": "application/json"},
    )
    assert response.status_code == 409 and not Artwork.objects.exists()


def test_a_copied_step_has_a_seed_of_its_own(post, worked):
    part = worked.document.stack[0]
    grain = next(step for step in part.treatment if step.kind == "grain")
    told = post(
        reverse("change", args=[worked.pk]),
        {"version": 1, "edits": [{"op": "copy_step", "step": grain.id}]},
    ).json()
    seeds = [
        step["seed"]
        for step in told["document"]["stack"][0]["treatment"]
        if step["kind"] == "grain"
    ]
    assert len(seeds) == len(set(seeds)) == 2


def test_strokes_are_their_owners_alone(post, worked, django_user_model):
    landing = ["stack", worked.document.stack[0].id, "landing"]
    stroke = {
        "op": "add_stroke",
        "path": landing,
        "stroke": {"points": [[0, 0], [0.1, 0.2]], "radius": 0.05},
    }
    told = post(reverse("change", args=[worked.pk]), {"version": 1, "edits": [stroke]}).json()
    (name,) = told["document"]["stack"][0]["landing"]["touch"]
    assert worked.owner.stroke_files.filter(hash=name).count() == 1
    other = django_user_model.objects.create_user("other")
    from kilncore.document import load
    from kilncore.errors import KilnError

    mine = json.loads(json.dumps(told["document"]))
    mine |= {"ground": {"fill": {"kind": "none"}}, "stack": [{**mine["stack"][0], "treatment": []}]}
    with pytest.raises(KilnError, match="not yours"):
        actions.start(other, load(mine))
