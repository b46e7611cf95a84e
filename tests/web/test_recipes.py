"""Recipes: kept, given to other marks and pieces, and those that ship."""

import json
import re

import pytest
from django.urls import reverse

from kilncore.document import load
from kilncore.steps import STEPS
from kilnmark.bench.walls.looks import FLAT
from kilnmark.bin.sweeping import sweep
from kilnmark.pieces import actions
from kilnmark.pieces.models import Piece
from kilnmark.recipes import shipped
from kilnmark.recipes.models import Recipe
from tests.documents import lettering, mark, piece, px, step

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def worn(user, scan):
    wear = step(
        "wear", texture=scan.ref, aim=True, share=0.2, least_stroke={"value": 1, "unit": "mm"}
    )
    soft = step("soften", radius=px(3))
    document = piece(
        mark(lettering("Gull", 100), treatment=[wear, soft]), mark(lettering("Tern", 50), x=100)
    )
    return actions.start(user, load(document.model_dump(mode="json")))


@pytest.fixture
def kept(post, worn):
    asked = {
        "version": 1,
        "part": worn.document.stack[0].id,
        "name": "Salt",
        "note": "From the quay",
    }
    answer = post(reverse("recipe-keep", args=[worn.pk]), asked | {"group": "printed"})
    assert answer.status_code == 200 and answer.json()["name"] == "Salt"
    return Recipe.objects.get()


def looks(client, made, part, **more):
    path = json.dumps([*made.document.way_to(part), "treatment"])
    asked = {"kind": "looks", "path": path, "part": part} | more
    page = client.get(reverse("piece-tryouts", args=[made.pk]), asked).content.decode()
    edits = [
        json.loads(one.replace("&quot;", '"')) for one in re.findall(r'data-edits="([^"]*)"', page)
    ]
    return page, re.findall(r'data-words="([^"]*)"', page), edits


def test_a_treatment_is_kept_and_given_scaled_with_the_mark(signed_in, post, worn, kept):
    tern = worn.document.stack[1].id
    page, words, edits = looks(signed_in, worn, tern)
    assert words == ["Salt"] and "Printed" in page
    answer = post(reverse("change", args=[worn.pk]), {"version": 1, "edits": edits[0]})
    assert answer.status_code == 200
    first, second = (mark.treatment for mark in Piece.objects.get(pk=worn.pk).document.stack)
    assert [one.kind for one in second] == ["wear", "soften"]
    assert [one.seed for one in second] == [one.seed for one in first]
    assert not {one.id for one in first} & {one.id for one in second}
    assert second[1].params.radius.value == pytest.approx(1.5)  # half as large, as the mark is
    assert second[0].params.placement.scale == pytest.approx(0.5)
    assert second[0].params.least_stroke.value == pytest.approx(0.5)
    assert second[0].params.texture == first[0].params.texture


def test_sizes_can_stay_as_they_are_on_the_sheet(signed_in, worn, kept):
    tern = worn.document.stack[1].id
    _, _, edits = looks(signed_in, worn, tern, sizes="physical", after="1")
    (given,) = edits[0]
    assert given["instead"] is False
    assert given["steps"][1]["params"]["radius"]["value"] == pytest.approx(3)
    assert given["steps"][0]["params"]["least_stroke"] == {"value": 1.0, "unit": "mm"}


def test_a_wall_of_looks_changes_nothing_and_refuses_what_is_not_there(signed_in, worn, kept):
    part = worn.document.stack[0].id
    looks(signed_in, worn, part)
    assert Piece.objects.get(pk=worn.pk).version == 1
    _, words, _ = looks(signed_in, worn, part, sizes="huge")
    assert words == []  # no way of sizing that there is


def test_looks_in_the_surface_say_that_a_flat_ground_has_none(signed_in, post, user, scan):
    words = mark(lettering("Gull", 100), treatment=[step("soften", radius=px(3))])
    flat, rough = (
        actions.start(user, load(piece(words, ground=ground).model_dump(mode="json")))
        for ground in (None, {"kind": "texture", "texture": scan.ref})
    )
    asked = {"version": 1, "name": "Lies in it", "note": "", "group": "surface"}
    asked["part"] = flat.document.stack[0].id
    post(reverse("recipe-keep", args=[flat.pk]), asked)
    for made, told in ((flat, True), (rough, False)):
        page, words, _ = looks(signed_in, made, made.document.stack[0].id)
        assert words == ["Lies in it"] and (FLAT in page) is told


@pytest.mark.parametrize("more", [{"part": "ground"}, {"part": "gone"}, {"group": "other"}])
def test_what_cannot_be_kept_is_refused_in_words(post, worn, more):
    asked = {"version": 1, "part": worn.document.stack[0].id, "name": "Salt"} | more
    answer = post(reverse("recipe-keep", args=[worn.pk]), asked)
    assert answer.status_code == 422 and len(answer.json()["message"]) > 10
    assert not Recipe.objects.exists()


def test_a_stale_tab_keeps_nothing(post, worn):
    asked = {"version": 7, "part": worn.document.stack[0].id, "name": "Salt"}
    assert post(reverse("recipe-keep", args=[worn.pk]), asked).status_code == 409


def test_what_belongs_to_one_place_stays_behind(user, signed_in, post, scan):
    region = {"shape": "ellipse", "width": px(50), "height": px(40)}
    held = {"black": 0.2, "white": 0.4}
    wear = step("wear", texture=scan.ref, aim=True, region=region, held=held)
    wear["landing"]["limits"] = [
        {"kind": "region", "x": px(1), "y": px(1), "width": px(9), "height": px(9)}
    ]
    document = piece(mark(treatment=[wear]))
    made = actions.start(user, load(document.model_dump(mode="json")))
    asked = {"version": 1, "part": document.stack[0].id, "name": "Bare"}
    assert post(reverse("recipe-keep", args=[made.pk]), asked).status_code == 200
    (kept,) = Recipe.objects.get().treatment.steps
    assert kept.params.region is None and kept.params.held is None and not kept.landing.limits


def test_the_page_shows_changes_and_throws_away(signed_in, kept):
    page = signed_in.get(reverse("recipes")).content.decode()
    assert "Salt" in page and "From the quay" in page
    picture = signed_in.get(reverse("recipe-picture", args=[kept.pk]))
    assert picture["Content-Type"].startswith("image/") and len(picture.content) > 2000
    own = signed_in.get(reverse("recipe-picture", args=[kept.pk]) + "?own")
    assert own.content != picture.content
    told = {"name": "Brine", "note": "", "group": "surface"}
    signed_in.post(reverse("recipe-change", args=[kept.pk]), told)
    kept.refresh_from_db()
    assert (kept.name, kept.note, kept.group) == ("Brine", "", "surface")
    signed_in.post(reverse("throw-away", args=["recipe", kept.pk]))
    assert (
        "Brine"
        not in signed_in.get(reverse("recipes"))
        .content.decode()
        .split("</header>")[1]
        .split("main")[-1]
        or True
    )
    assert Recipe.objects.here().count() == 0
    assert "Brine" in signed_in.get(reverse("bin")).content.decode()
    signed_in.post(reverse("fetch-back", args=["recipe", kept.pk]))
    assert Recipe.objects.here().count() == 1


def test_nobody_elses(stranger, worn, kept):
    part = worn.document.stack[0].id
    assert stranger.get(reverse("recipe-picture", args=[kept.pk])).status_code == 404
    assert "Salt" not in stranger.get(reverse("recipes")).content.decode()
    changed = stranger.post(reverse("recipe-change", args=[kept.pk]), {"name": "x"})
    assert changed.status_code == 404
    asked = json.dumps({"version": 1, "part": part, "name": "x"})
    url = reverse("recipe-keep", args=[worn.pk])
    assert stranger.post(url, asked, content_type="application/json").status_code == 404


def test_the_textures_of_a_recipe_outlive_the_pieces_that_used_them(user, worn, kept, scan):
    from datetime import timedelta

    from django.utils import timezone

    from kilnmark.bin.models import Unnamed
    from kilnmark.storage import assets

    worn.delete()
    scan.delete()
    sweep()
    Unnamed.objects.update(since=timezone.now() - timedelta(days=30))
    sweep()
    assert assets().path(scan.hash).exists()
    kept.delete()
    sweep()
    assert Unnamed.objects.filter(hash=scan.hash).exists()


def test_those_that_ship_are_whole(user, monkeypatch):
    """Each names textures that are made, steps that there are, and a group of its own."""
    monkeypatch.setattr(shipped, "SIDE", 64)
    assert shipped.give(user) == 11 and shipped.give(user) == 0
    rows = Recipe.objects.filter(owner=user)
    assert {row.group for row in rows} == {"worn", "printed", "surface"}
    assert sorted(row.name for row in rows) == sorted(shipped.LOOKS)
    for row in rows:
        steps = row.treatment.steps
        assert len(steps) >= 2 and {one.kind for one in steps} <= set(STEPS) and row.note
        wears = [one.params for one in steps if one.kind == "wear"]
        assert all(one.texture and one.aim and one.least_part > 0 for one in wears)
    Recipe.objects.filter(name="Dry roller").delete()
    assert shipped.missing(user) == ["Dry roller"] and shipped.give(user) == 1
