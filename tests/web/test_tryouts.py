"""Walls of alternatives, aims and remedies on the sheet."""

import json
import re

import numpy as np
import pytest
from django.urls import reverse

from kilncore.blending.modes import BLEND_MODES
from kilncore.document import load
from kilncore.engine.plans import plan_of
from kilncore.steps import STEPS
from kilnmark.bench.pictures import close_region
from kilnmark.pieces import actions
from kilnmark.pieces.models import Piece
from tests.documents import lettering, mark, piece, step
from tests.pictures import array
from tests.web.flat import flat

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def coated(user, scan):
    """A black word under an overlay, which cannot show."""
    coat = step("coat", "overlay", 1.0, texture=scan.ref)
    document = piece(mark(lettering("Gull", 90, "#000000"), treatment=[coat]))
    return actions.start(user, load(document.model_dump(mode="json")))


def way(made):
    item = made.document.stack[0]
    return ["stack", item.id, "treatment", item.treatment[0].id]


def wall(client, made, kind, path, part=None):
    asked = {"kind": kind, "path": json.dumps(path), "part": part or made.document.stack[0].id}
    return client.get(reverse("piece-tryouts", args=[made.pk]), asked)


def cards(answer):
    page = flat(answer)
    return named(page, "choice tryout"), re.findall(r'<img src="([^"]*)"', page)


def named(page, kind):
    """The words of all that can be taken, as cards or among those that look alike."""
    return re.findall(rf'class="{kind}" data-edits="[^"]*" data-words="([^"]*)"', page)


def test_all_modes_are_shown_once_the_present_one_first(signed_in, coated):
    answer = wall(signed_in, coated, "modes", [*way(coated), "landing", "mode"])
    words, urls = cards(answer)
    page = flat(answer)
    assert words[0] == "Overlay" and page.count('aria-current="true"') == 1
    alike = named(page, "link-quiet")
    assert sorted(words + alike) == sorted(mode.title for mode in BLEND_MODES.values())
    assert "Hard light" not in alike  # it shows on black, and overlay does not
    assert Piece.objects.get(pk=coated.pk).version == 1 and urls


def test_a_walls_pictures_are_those_drawn_alone_to_the_bit(signed_in, coated):
    from kilnmark.pictures import PICTURES

    answer = wall(signed_in, coated, "modes", [*way(coated), "landing", "mode"])
    _, urls = cards(answer)
    together = [signed_in.get(url.replace("&amp;", "&")).content for url in urls]
    PICTURES._values.clear()
    alone = [signed_in.get(url.replace("&amp;", "&")).content for url in urls]
    assert together == alone and len(set(together)) == len(together)


def test_a_wall_that_takes_long_is_told_before_it_is_drawn(signed_in, coated, scan):
    from kilnmark.pictures import PICTURES

    path = [*way(coated), "params", "texture"]
    asked = {"kind": "textures", "path": json.dumps(path), "part": coated.document.stack[0].id}
    url = reverse("piece-tryouts", args=[coated.pk])
    PICTURES._values.clear()
    first = signed_in.get(url, asked | {"first": "1"})
    assert first["X-Filling"] == "1" and not PICTURES._values
    page = flat(first)
    urls = re.findall(r'<img data-src="([^"]*)"', page)
    shown = [signed_in.get(one.replace("&amp;", "&")).content for one in urls]
    whole = signed_in.get(url, asked)
    assert whole["X-Filling"] == "0" and set(named(page, "choice tryout")) == set(
        named(flat(whole), "choice tryout") + named(flat(whole), "link-quiet")
    )
    ordered = re.findall(r'<img src="([^"]*)"', flat(whole))
    again = [signed_in.get(one.replace("&amp;", "&")).content for one in ordered]
    assert shown and set(again) <= set(shown)
    modes = {**asked, "kind": "modes", "path": json.dumps([*way(coated), "landing", "mode"])}
    assert signed_in.get(url, modes | {"first": "1"})["X-Filling"] == "0"


def test_they_are_ordered_by_how_much_they_change(signed_in, coated):
    _, urls = cards(wall(signed_in, coated, "modes", [*way(coated), "landing", "mode"]))
    pictures = [
        array(signed_in.get(url.replace("&amp;", "&")).content).astype(float) for url in urls
    ]
    changes = [np.abs(one - pictures[0]).mean() for one in pictures]
    assert all(b > a - 3 for a, b in zip(changes, changes[1:], strict=False)), changes  # JPEG


def test_nine_places_and_next_steps(signed_in, coated):
    words, urls = cards(
        wall(signed_in, coated, "placements", [*way(coated), "params", "placement"])
    )
    assert words == ["where it is"]  # an overlay on black: all of them look the same
    part = coated.document.stack[0].id
    assert urls
    page = flat(wall(signed_in, coated, "steps", ["stack", part, "treatment"]))
    all_kinds = named(page, "choice tryout") + named(page, "link-quiet")
    assert sorted(all_kinds) == sorted(kind.title for kind in STEPS.values())


def test_a_next_step_follows_the_chosen_one(signed_in, post, coated):
    """One that looks like another can be taken too."""
    answer = wall(signed_in, coated, "steps", way(coated))
    found = re.findall(r'data-edits="([^"]*)" data-words="(\w+)"', flat(answer))
    taken = {words: json.loads(edits.replace("&quot;", '"')) for edits, words in found}
    post(reverse("change", args=[coated.pk]), {"version": 1, "edits": taken["Soften"]})
    post(reverse("change", args=[coated.pk]), {"version": 2, "edits": taken["Tones"]})
    treatment = Piece.objects.get(pk=coated.pk).document.stack[0].treatment
    assert [one.kind for one in treatment] == ["coat", "tones", "soften"]
    ground = flat(wall(signed_in, coated, "steps", ["ground", "treatment"], "ground"))
    assert "Grain" in ground and "Follow surface" not in ground


def test_nine_seeds_are_nine_pictures_and_taking_one_changes_only_the_seed(signed_in, post, coated):
    edit = {"op": "add_step", "part": "ground", "kind": "grain", "params": {"amount": 40}}
    post(reverse("change", args=[coated.pk]), {"version": 1, "edits": [edit]})
    before = Piece.objects.get(pk=coated.pk)
    grain = before.document.ground.treatment[0]
    path = ["ground", "treatment", grain.id, "seed"]
    answer = wall(signed_in, before, "seeds", path, "ground")
    words, urls = cards(answer)
    pictures = {signed_in.get(url.replace("&amp;", "&")).content for url in urls}
    assert words[0] == "as it is" and len(words) == len(pictures) == 9
    taken = json.loads(re.findall(r'data-edits="([^"]*)"', flat(answer))[3].replace("&quot;", '"'))
    post(reverse("change", args=[coated.pk]), {"version": 2, "edits": taken})
    after = Piece.objects.get(pk=coated.pk).document.ground.treatment[0]
    assert after.seed != grain.seed
    assert after.model_copy(update={"seed": grain.seed}) == grain


@pytest.mark.parametrize(
    "kind, path",
    [
        ("modes", ["title"]),
        ("modes", []),
        ("modes", ["stack", "gone", "landing", "mode"]),
        ("placements", ["ground", "fill", "placement"]),
        ("steps", ["stack"]),
        ("seeds", ["stack"]),
        ("seeds", ["title"]),
        ("seeds", []),
        ("colours", ["title"]),
    ],
)
def test_what_cannot_be_tried_is_refused_in_words(signed_in, coated, kind, path):
    answer = wall(signed_in, coated, kind, path)
    assert answer.status_code == 422


def sheet(client, made, number=0):
    item = made.document.stack[0]
    asked = {"part": item.id, "step": item.treatment[number].id}
    return client.get(reverse("sheet", args=[made.pk]), asked).content.decode()


def test_a_coat_that_cannot_show_says_so_and_is_helped_in_one_click(signed_in, post, coated):
    page = sheet(signed_in, coated)
    assert "100 % of this mark is pure black or white: overlay cannot show there." in page
    edit = json.loads(
        re.search(r'<div class="warned".*?data-edit="([^"]*)"', page, re.S)
        .group(1)
        .replace("&quot;", '"')
    )
    asked = {"version": 1, "edits": [edit], "label": "Lifted"}
    assert post(reverse("change", args=[coated.pk]), asked).status_code == 200
    made = Piece.objects.get(pk=coated.pk)
    kinds = [one.kind for one in made.document.stack[0].treatment]
    assert kinds == ["tones", "coat"] and "warned" not in sheet(signed_in, made, 1)


def test_a_new_wear_has_an_aim_and_its_sheet_says_what_was_solved(signed_in, post, coated):
    part = coated.document.stack[0].id
    edit = {"op": "add_step", "part": part, "kind": "wear", "at": 0}
    post(reverse("change", args=[coated.pk]), {"version": 1, "edits": [edit]})
    made = Piece.objects.get(pk=coated.pk)
    wear = made.document.stack[0].treatment[0]
    assert wear.params.aim and wear.params.share == 0.15
    page = sheet(signed_in, made)
    assert 'data-solved="solved: takes 15.0 %"' in page


@pytest.mark.parametrize(
    "text, x, y, whole, shape",
    [
        ("O", 200, 150, True, 1),
        ("Gull", 60, 290, True, 2),
        ("Gull gull gull gull gull", 300, 20, False, 2),
        ("G\nu\nl\nl", 300, 200, True, 2 / 3),
    ],
)
def test_a_card_shows_all_of_a_mark_but_of_very_wide_ones_the_middle(
    user, text, x, y, whole, shape
):
    document = piece(mark(lettering(text, 24), x, y), size=(600, 400))
    part = document.stack[0].id
    left, top, wide, tall = close_region(document, part)
    box = plan_of(document).extent(part).intersection(plan_of(document).page)
    assert wide == pytest.approx(shape * tall, abs=2) and left >= 0 and top >= 0
    inside = left <= box.left and left + wide >= box.right
    assert (inside if whole else wide < box.width) and top <= box.top and top + tall >= box.bottom
    assert close_region(document, "piece") == (0, 50, 600, 300)
