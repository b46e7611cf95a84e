"""What drawing by hand asks of the server: tips, the ways of strokes, edges, strokes by a seed,
and those that are kept by a name.
"""

import json
import secrets

import numpy as np
import pytest
from django.urls import reverse

from kilncore.artwork.drawn import DrawnArt
from kilncore.pixels.colour import LUMA, hex_to_rgb
from kilncore.strokes import told_in
from kilncore.strokes.tip import SHIPPED, tip_named
from kilnmark.bench.drawing.hand import Hand
from kilnmark.bin.sweeping import _named_by_documents
from kilnmark.pieces.models import Piece
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets
from tests.documents import STROKES_HASH

pytestmark = pytest.mark.django_db


@pytest.fixture
def path(worked):
    """Of the settings of its dabs."""
    (item,) = worked.document.stack
    dabs = next(one for one in item.treatment if one.kind == "dabs")
    return ["stack", item.id, "treatment", dabs.id, "params"]


def asked(signed_in, name, worked, **query):
    return signed_in.get(reverse(name, args=[worked.pk]), query)


def test_every_tip_has_a_picture_and_its_pixels(signed_in, worked):
    for name in ("round", "line", *SHIPPED):
        answer = signed_in.get(reverse("tip-picture", args=[worked.pk, name]))
        assert answer.status_code == 200 and answer.content.startswith(b"\x89PNG")
    told = signed_in.get(reverse("tip-pixels", args=[worked.pk, "cork"])).json()
    assert told["size"] == 192 and len(told["pixels"]) > 192 * 192
    for name in ("no-such-tip", "own-99", "own-x"):
        assert signed_in.get(reverse("tip-picture", args=[worked.pk, name])).status_code == 404
    bad = signed_in.get(reverse("tip-picture", args=[worked.pk, "cork"]), {"on": "red"})
    assert bad.status_code == 422


def test_the_ways_of_strokes_are_told_where_there_are_some(signed_in, worked, path):
    (one,) = asked(signed_in, "piece-strokes", worked, path=json.dumps(path)).json()["strokes"]
    assert one["points"][0] == pytest.approx([-0.9, -0.1], abs=0.01) and not one["back"]
    for bad in ("", "[1]", '["stack"]', "[" * 99):
        assert asked(signed_in, "piece-strokes", worked, path=bad).status_code == 422


def test_the_edge_of_a_mark_and_of_the_page(signed_in, worked):
    (item,) = worked.document.stack
    assert len(asked(signed_in, "piece-edge", worked, part=item.id).json()["loops"]) >= 4
    (page,) = asked(signed_in, "piece-edge", worked, part="ground").json()["loops"]
    wide, tall = worked.document.size_px
    assert page[0] == pytest.approx([-wide / tall / 2, -0.5], abs=1e-4)
    assert asked(signed_in, "piece-edge", worked, part="nobody").status_code == 422


def test_strokes_along_the_edges_by_a_seed(post, worked):
    (item,) = worked.document.stack
    brush = {"radius": 0.05, "tip": "cork", "back": True}
    told = {"op": "add_scrapes", "path": ["stack", item.id, "landing"], "part": item.id}
    told |= {"brush": brush, "seed": 4}

    def scraped(version, **more):
        url = reverse("change", args=[worked.pk])
        token = secrets.token_hex(12)
        return post(url, {"version": version, "token": token, "edits": [{**told, **more}]})

    bad = (
        {"side": "inner"},
        {"side": 4},
        {"side": ["top"]},
        {"seed": {}},
        {"brush": {"radius": -1}},
        {"brush": 3},
        {"part": "nobody"},
        {"part": ["x"]},
        {"seed": -1},
        {"path": ["stack"]},
    )
    for one in bad:
        assert scraped(1, **one).status_code == 422, one
    answer = scraped(1)
    assert answer.status_code == 200, answer.content
    (item,) = Piece.objects.get(pk=worked.pk).document.stack
    every = [one for name in item.landing.touch for one in told_in(assets().data(name))]
    assert len(every) > 3 and all(one.back and one.tip and one.id for one in every)
    corner = scraped(2, side="top-left")
    assert corner.status_code == 200
    (item,) = Piece.objects.get(pk=worked.pk).document.stack
    both = [one for name in item.landing.touch for one in told_in(assets().data(name))]
    near = np.concatenate([one.points for one in both[len(every) :]])
    assert len(near) and near[:, 0].max() < 0 > near[:, 1].min()


@pytest.mark.parametrize("colour", ["#ffffff", "#efe6d3", "#20262a", "#000000"])
def test_tips_of_a_drawn_mark_stand_out_from_its_colour(worked, colour):
    (item,) = worked.document.stack
    art = DrawnArt(colour=colour)
    document = worked.document.model_copy(update={"stack": (item.model_copy(update={"art": art}),)})
    hand = Hand(document, ["stack", item.id, "art"], item.id, ())
    assert hand.under == colour
    assert abs(float((hex_to_rgb(hand.colour) - hex_to_rgb(colour)) @ LUMA)) > 0.3


def test_strokes_are_told_as_they_are_held(signed_in, worked, post, path):
    curve = {"points": [[0, 0], [0.4, 0.2], [0.8, 0]], "radius": 0.1, "curved": True, "id": 9}
    free = {"points": [[n / 1000, 0] for n in range(400)], "radius": 0.001, "tip": "cork"}
    edits = [{"op": "add_stroke", "path": path, "stroke": one} for one in (curve, free)]
    url = reverse("change", args=[worked.pk])
    assert post(url, {"version": 1, "token": "held" * 6, "edits": edits}).status_code == 200
    told = asked(signed_in, "piece-strokes", worked, path=json.dumps(path)).json()["strokes"][-2:]
    assert told[0]["curved"] and told[0]["id"] == 9 and len(told[0]["points"]) == 3
    assert told[1]["tip"] is True and 12 < len(told[1]["points"]) <= 61
    assert told[1]["points"][-1] == pytest.approx([0.399, 0], abs=1e-3)


def test_a_tip_of_ones_own_is_made_of_a_texture_and_is_its_owners(
    signed_in, stranger, worked, scan
):
    made = signed_in.post(
        reverse("texture-tip", args=[scan.pk]), {"name": "Quay", "of": "darks", "share": "60"}
    )
    assert made.status_code == 302
    (tip,) = scan.owner.tips.all()
    part = {"of": "darks", "share": "20", "x": "80", "y": "30"}
    whole = signed_in.get(reverse("texture-whole", args=[scan.pk]))
    assert whole.headers["Content-Type"] == "image/jpeg"
    tried = [
        signed_in.get(reverse("texture-tip-tried", args=[scan.pk]), one).content
        for one in (part, {**part, "x": "20"}, {**part, "of": "lights"})
    ]
    assert len(set(tried)) == 3 and tried[0].startswith(b"\x89PNG")
    for bad in ({"share": "many"}, {"share": "0"}, {"x": "101"}, {"y": "nan"}, {"of": "reds"}):
        answer = signed_in.get(reverse("texture-tip-tried", args=[scan.pk]), bad)
        assert answer.status_code == 422, bad
    name = f"own-{tip.pk}"
    assert tip_named(tip.told).pixels.max() > 100
    assert signed_in.get(reverse("tip-picture", args=[worked.pk, name])).status_code == 200
    told = signed_in.get(reverse("tip-pixels", args=[worked.pk, name])).json()
    assert told["told"] == tip.told
    sheet = signed_in.get(
        reverse("sheet", args=[worked.pk]), {"part": worked.document.stack[0].id, "step": "lands"}
    ).content.decode()
    assert 'value="own-' in sheet and "Quay" in sheet
    assert stranger.post(reverse("texture-tip", args=[scan.pk])).status_code == 404
    assert stranger.get(reverse("own-tip-picture", args=[tip.pk])).status_code == 404
    assert signed_in.get(reverse("own-tip-picture", args=[tip.pk])).status_code == 200
    for bad in ("much", ""):
        answer = signed_in.post(reverse("texture-tip", args=[scan.pk]), {"share": bad})
        assert answer.status_code == 422
    signed_in.post(reverse("throw-away", args=["tip", tip.pk]))
    assert signed_in.get(reverse("tip-picture", args=[worked.pk, name])).status_code == 404
    assert Texture.objects.count() == 1


def test_strokes_are_kept_by_a_name_and_laid_elsewhere(post, signed_in, user, worked, path):
    url = reverse("strokes-keep", args=[worked.pk])
    assert post(url, {"path": path, "name": "Rubbed"}).json() == {"name": "Rubbed"}
    (kept,) = user.stroke_sets.all()
    assert kept.files == [STROKES_HASH]
    item = worked.document.stack[0]
    edit = {"op": "set", "path": ["stack", item.id, "landing", "touch"], "value": kept.files}
    change = {"version": 1, "token": "a" * 12, "edits": [edit], "label": "Laid"}
    assert post(reverse("change", args=[worked.pk]), change).status_code == 200
    worked.refresh_from_db()
    assert list(worked.document.stack[0].landing.touch) == kept.files
    assert STROKES_HASH.encode() in _named_by_documents()
    empty = ["stack", item.id, "treatment", item.treatment[0].id, "landing"]
    assert post(url, {"path": empty, "name": "None"}).status_code == 422
    assert post(url, {"path": ["stack", "gone"], "name": "None"}).status_code == 422
    signed_in.post(reverse("throw-away", args=["strokes", kept.pk]))
    assert not user.stroke_sets.here().exists() and user.stroke_sets.in_bin().exists()


def test_a_stroke_with_another_owners_file_is_refused(post, worked, path):
    edit = {"op": "set", "path": [*path, "strokes"], "value": ["e" * 64]}
    change = {"version": 1, "token": "b" * 12, "edits": [edit], "label": "Laid"}
    assert post(reverse("change", args=[worked.pk]), change).status_code == 422
