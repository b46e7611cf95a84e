"""Three directions of a piece: put, mixed, reseeded, gone on with and fired."""

import pytest
from django.urls import reverse

from kilncore.document import dump, load
from kilnmark.directions.models import Direction
from kilnmark.firings.models import Firing
from kilnmark.pieces import actions
from kilnmark.pieces.models import Piece
from tests.documents import mark, piece, step

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def bare(user):
    document = piece(mark(treatment=[step("soften", radius={"value": 1, "unit": "px"})]))
    return actions.start(user, load(document.model_dump(mode="json")))


@pytest.fixture
def put(post, bare, scan):
    part = bare.document.stack[0].id

    def of(place, *kinds, name="Rubbed", version=1):
        textured = {"wear": {"texture": scan.ref}, "coat": {"texture": scan.ref}}
        steps = [{"kind": kind, "params": textured.get(kind, {})} for kind in kinds]
        edit = {"op": "add_steps", "part": part, "steps": steps, "instead": True}
        sent = {"version": version, "place": place, "part": part, "name": name, "edits": [edit]}
        return post(reverse("direction-put", args=[bare.pk]), sent)

    return of


def kinds(bare, place):
    return [one.kind for one in Direction.objects.get(piece=bare, place=place).steps]


def test_a_look_is_put_in_a_place_and_the_piece_stays_as_it_is(put, bare):
    page = put(1, "wear", "soften").content.decode()
    assert "Rubbed" in page and kinds(bare, 1) == ["wear", "soften"]
    row = Piece.objects.get(pk=bare.pk)
    assert row.version == 1 and row.document == bare.document
    first = Direction.objects.get().state
    put(1, "coat", name="Chalky")
    assert kinds(bare, 1) == ["coat"] and Direction.objects.get().name == "Chalky"
    assert bare.states.filter(pk=first.pk).exists(), "what was there before is among what was done"


def test_one_of_another_version_or_place_is_refused_in_words(put, bare):
    assert put(1, "wear", version=3).status_code == 409
    assert put(4, "wear").status_code == 422 and not Direction.objects.exists()
    assert put(1, "velvet").status_code == 422 and bare.states.count() == 1


def test_the_wear_of_one_goes_with_the_coat_of_another(put, post, bare):
    put(1, "wear", "coat", name="One")
    put(2, "wear", "soften", name="Two")
    giver = Direction.objects.get(place=2).steps[0]
    taker = Direction.objects.get(place=1).steps
    assert giver.seed != taker[0].seed
    asked = {"giver": 2, "taker": 1, "step": giver.id}
    page = post(reverse("direction-mix", args=[bare.pk]), asked).content.decode()
    mixed = Direction.objects.get(place=1)
    assert [one.kind for one in mixed.steps] == ["wear", "coat"] and "One, mixed" in page
    assert mixed.steps[0].seed == giver.seed and mixed.steps[1].seed == taker[1].seed
    soften = Direction.objects.get(place=2).steps[1]
    post(reverse("direction-mix", args=[bare.pk]), {**asked, "step": soften.id})
    assert kinds(bare, 1) == ["wear", "coat", "soften"]
    gone = post(reverse("direction-mix", args=[bare.pk]), {**asked, "step": "nowhere"})
    assert gone.status_code == 422 and kinds(bare, 1) == ["wear", "coat", "soften"]


def test_another_seed_wears_elsewhere(put, post, bare):
    put(3, "wear")
    before = Direction.objects.get().steps[0].seed
    post(reverse("direction-reseed", args=[bare.pk]), {"place": 3})
    assert Direction.objects.get().steps[0].seed != before


def test_the_piece_goes_on_with_one_and_can_be_undone(put, post, bare):
    put(2, "wear")
    url = reverse("direction-go-on", args=[bare.pk])
    assert post(url, {"place": 2, "version": 9}).status_code == 409
    answer = post(url, {"place": 2, "version": 1, "token": "abcdefgh-1"}).json()
    assert answer["bench"] == reverse("bench", args=[bare.pk])
    row = Piece.objects.get(pk=bare.pk)
    assert [one.kind for one in row.document.stack[0].treatment] == ["wear"]
    assert row.head.label == "Direction: Rubbed"
    post(reverse("undo", args=[bare.pk]), {"version": row.version})
    assert Piece.objects.get(pk=bare.pk).document == bare.document


def test_all_three_are_fired_under_their_names(put, signed_in, bare):
    for place, name in enumerate(("One", "Two", "Three"), 1):
        put(place, "wear", name=name)
    url = reverse("directions-fire", args=[bare.pk])
    assert signed_in.post(url, {"place": ["1", "3"], "ground": "without"}).status_code == 302
    fired = Firing.objects.order_by("asked")
    assert [one.title.split(", ")[1] for one in fired] == ["One", "Three"]
    assert not any(one.with_ground for one in fired)
    states = [Direction.objects.get(piece=bare, place=place).state for place in (1, 3)]
    assert [one.document for one in fired] == [dump(one.document) for one in states]
    told = signed_in.get(reverse("fire", args=[bare.pk])).json()
    assert told == {}, "the bench's own dialog is not told of a direction's file"
    assert signed_in.post(url, {"place": ["7"]}).status_code == 422


def test_nobody_else_sees_or_moves_them(put, stranger, bare):
    put(1, "wear")
    assert stranger.get(reverse("directions", args=[bare.pk])).status_code == 404
    for name in ("put", "mix", "reseed", "let-go", "go-on"):
        url = reverse(f"direction-{name}", args=[bare.pk])
        assert stranger.post(url, {}, "application/json").status_code == 404


def test_two_versions_offer_what_differs(put, signed_in, bare):
    put(1, "wear", name="One")
    url = reverse("piece-versions", args=[bare.pk])
    found = signed_in.get(url).json()["versions"]
    (other,) = [one for one in found if one["role"] == "direction"]
    assert found[0]["same"] and other["name"] == "One" and not other["same"]


def test_the_page_shows_looks_and_places(put, signed_in, bare, user):
    url = reverse("directions", args=[bare.pk])
    assert "No recipe yet" in signed_in.get(url).content.decode()
    put(1, "wear", name="One")
    page = signed_in.get(url).content.decode()
    assert 'data-place="1"' in page and "One" in page


def test_a_pin_without_a_name_is_called_by_its_look(put, post, bare):
    put(2, "wear", name="Rubbed")
    post(reverse("direction-go-on", args=[bare.pk]), {"place": 2, "version": 1})
    for expected in ("Rubbed", "Rubbed 2", "Rubbed 3"):
        page = post(reverse("piece-pin", args=[bare.pk]), {"version": 2}).content.decode()
        assert f"<b>{expected}</b>" in page
