"""Artworks that serve many marks and pieces: replaced here, or everywhere with a state in each."""

import json

import pytest
from django.urls import reverse

from kilncore.document import load
from kilnmark.pieces import actions, bringing
from kilnmark.pieces.artworks import uses_of
from kilnmark.pieces.models import Piece
from tests.documents import group, lettering, mark, piece
from tests.web.flat import flat

pytestmark = pytest.mark.django_db
FLAG = b'<svg xmlns="http://www.w3.org/2000/svg" width="90" height="60"><path fill="#a03020" d="M0 0h90v60z"/></svg>'  # noqa: E501
BUOY = b'<svg xmlns="http://www.w3.org/2000/svg" width="40" height="80"><circle fill="#204060" cx="20" cy="40" r="18"/></svg>'  # noqa: E501


@pytest.fixture
def art(user):
    found = (
        bringing.bring_in(user, f"{n}.svg", data) for n, data in (("flag", FLAG), ("buoy", BUOY))
    )
    return [one.art.model_dump(mode="json") for one in found]


@pytest.fixture
def three(user, art):
    """Pieces with one flag, with two of them, one in a group, and with none."""
    flag, _ = art
    documents = (
        piece(mark(flag) | {"name": "flag"}),
        piece(mark(flag) | {"name": "By hand"}, group(mark(flag), x=100, y=100)),
        piece(mark(lettering("GULL"))),
    )
    return [actions.start(user, load(one.model_dump(mode="json"))) for one in documents]


def everywhere(client, held, art, version=1, **more):
    name = held.document.stack[0].id
    asked = {
        "version": version,
        "token": "token-1234",
        "mark": name,
        "art": art,
        "fit": "height",
        **more,
    }
    url = reverse("replace-everywhere", args=[held.pk])
    return client.post(url, json.dumps(asked), content_type="application/json")


def hashes(held):
    return [getattr(one.art, "hash", "") for one in Piece.objects.get(pk=held.pk).document.marks()]


def test_it_is_listed_where_it_is_used(signed_in, user, three, art):
    uses = uses_of(user, art[0]["hash"])
    assert {use.piece.pk: len(use.marks) for use in uses} == {three[0].pk: 1, three[1].pk: 2}
    asked = {"mark": three[0].document.stack[0].id}
    shown = flat(signed_in.get(reverse("uses", args=[three[0].pk]), asked))
    assert "2 pieces" in shown and "(2 marks)" in shown


def test_everywhere_writes_one_state_into_each_and_each_is_undone_alone(signed_in, three, art):
    flag, buoy = art
    told = everywhere(signed_in, three[0], buoy)
    assert told.status_code == 200 and told.json()["undo"] == "Art replaced everywhere"
    assert hashes(three[0]) == [buoy["hash"]] and hashes(three[1]) == [buoy["hash"]] * 2
    assert [Piece.objects.get(pk=one.pk).states.count() for one in three] == [2, 2, 1]
    names = [one.name for one in Piece.objects.get(pk=three[1].pk).document.marks()]
    assert names[0] == "By hand"  # what was named by hand keeps its name
    assert Piece.objects.get(pk=three[0].pk).document.stack[0].name == "buoy"
    actions.undo(Piece.objects.get(pk=three[1].pk), 2)
    assert hashes(three[1]) == [flag["hash"]] * 2 and hashes(three[0]) == [buoy["hash"]]


def test_asked_twice_it_is_done_once(signed_in, three, art):
    for _ in range(2):
        assert everywhere(signed_in, three[0], art[1]).status_code == 200
    assert [Piece.objects.get(pk=one.pk).states.count() for one in three] == [2, 2, 1]


def test_stale_or_unfit_nothing_is_written_anywhere(signed_in, three, art):
    assert everywhere(signed_in, three[0], art[1], version=7).status_code == 409
    assert everywhere(signed_in, three[0], {"kind": "vector"}).status_code == 422
    assert everywhere(signed_in, three[0], art[1] | {"hash": "0" * 64}).status_code == 422
    assert [Piece.objects.get(pk=one.pk).states.count() for one in three] == [1, 1, 1]


def test_words_are_replaced_here_only(signed_in, three, art):
    answer = everywhere(signed_in, three[2], art[1])
    assert answer.status_code == 422 and "here only" in answer.json()["message"]


def test_art_of_any_sort_takes_the_place_of_any_other(signed_in, three, art, change_of):
    held = three[0]
    name = held.document.stack[0].id
    for version, new in enumerate((lettering("GULL"), art[1], art[0]), 1):
        edit = {"op": "replace_art", "mark": name, "art": new, "fit": "area"}
        assert change_of(held, version, [edit]).status_code == 200
    assert Piece.objects.get(pk=held.pk).document.stack[0].name == "flag"


@pytest.fixture
def change_of(signed_in):
    def send(held, version, edits):
        url = reverse("change", args=[held.pk])
        return signed_in.post(
            url,
            json.dumps({"version": version, "edits": edits, "label": "Art"}),
            content_type="application/json",
        )

    return send


def test_a_piece_is_duplicated_with_all_of_it(signed_in, three):
    answer = signed_in.post(reverse("piece-duplicate", args=[three[1].pk]))
    copy = Piece.objects.get(pk=answer["location"].rstrip("/").rsplit("/", 1)[1])
    assert copy.title.endswith(", copy") and copy.document.stack == three[1].document.stack
    assert copy.states.count() == 1


def test_pictures_of_artworks_and_what_to_choose_from(signed_in, user, stranger, three):
    shown = signed_in.get(reverse("artwork-choices")).content.decode()
    assert shown.count("data-artwork") == 2
    assert "on 2 pieces" in signed_in.get(reverse("artworks")).content.decode()
    for row in user.artworks.all():
        url = reverse("artwork-picture", args=[row.pk])
        assert signed_in.get(url).content[:4] == b"\x89PNG" and stranger.get(url).status_code == 404
