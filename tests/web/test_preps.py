"""Named preps, and preparing one use of a texture on a piece."""

import io
import json
from urllib.parse import quote

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from kilnmark.pieces.models import Piece
from kilnmark.pieces.textures import refs_in, texture_counts, uses_of
from kilnmark.preps import actions
from kilnmark.preps.models import Prep
from kilnmark.preps.shipped import SHIPPED
from kilnmark.shelf import actions as shelf
from kilnmark.storage import assets
from tests.pictures import array, png

pytestmark = pytest.mark.django_db(transaction=True)
INVERT = {"op": "add_operation", "path": ["chain"], "kind": "invert"}


@pytest.fixture
def prep(scan):
    return actions.start(scan, "plain")


@pytest.fixture
def changed(post, prep):
    def send(edits, version=None, **more):
        row = Prep.objects.get(pk=prep.pk)
        asked = {"version": row.version if version is None else version, "edits": edits, **more}
        return post(reverse("prep-change", args=[prep.pk]), asked)

    return send


def picture(post, prep, **asked):
    return post(reverse("prep-picture", args=[prep.pk]), asked)


def test_a_page_shows_the_chain_and_the_form_of_an_operation(signed_in, prep, changed):
    assert changed([INVERT]).status_code == 200
    page = signed_in.get(reverse("prep", args=[prep.pk])).content.decode()
    assert "Quay scan" in page and "Invert" in page and "From found to ready" in page
    sheet = signed_in.get(reverse("prep-sheet", args=[prep.pk])).content.decode()
    assert 'data-part="chain"' in sheet and "remove_operation" in sheet


def test_changes_undo_and_redo(post, prep, changed):
    changed([INVERT])
    (one,) = Prep.objects.get(pk=prep.pk).stored
    put = [{"op": "set", "path": ["chain", one["id"], "on"], "value": False}]
    assert changed(put).json()["undo"] == "Changed"
    for name, on in (("undo", True), ("redo", False), ("undo", True)):
        version = Prep.objects.get(pk=prep.pk).version
        answer = post(reverse(f"prep-{name}", args=[prep.pk]), {"version": version}).json()
        assert answer["document"]["chain"][0]["on"] is on
    assert answer["redo"] == "Changed" and answer["undo"] == "Changed"


def test_a_change_that_comes_twice_is_applied_once_and_a_stale_one_not_at_all(prep, changed):
    asked = {"token": "abcd-1234-efgh"}
    assert changed([INVERT], 1, **asked).status_code == 200
    assert changed([INVERT], 1, **asked).status_code == 200
    assert changed([INVERT], 1).status_code == 409
    assert len(Prep.objects.get(pk=prep.pk).stored) == 1


@pytest.mark.parametrize(
    "edits",
    [
        [{"op": "add_mark", "path": ["chain"]}],
        [{"op": "set", "path": ["hash"], "value": "0" * 64}],
        [{"op": "set", "path": ["chain", "gone", "on"], "value": True}],
        [{"op": "add_operation", "path": ["chain"], "kind": "knock-out"}],
        [{"op": "add_operation", "path": ["chain"], "kind": ["invert"]}],
        [{"op": "set", "path": ["chain"], "value": [{"kind": "blur", "sigma_px": 1e9}]}],
        [{"op": "set", "path": ["chain"], "value": [{"kind": "invert"}] * 21}],
        [{"op": "set", "path": "chain", "value": []}],
        [{}],
    ],
)
def test_what_does_not_fit_is_refused_and_changes_nothing(prep, changed, edits):
    answer = changed(edits)
    assert answer.status_code == 422 and answer.json()["message"]
    row = Prep.objects.get(pk=prep.pk)
    assert (row.version, row.stored) == (1, [])


def test_operations_are_copied_moved_and_put_in_their_place(prep, changed):
    def kinds():
        return [one["kind"] for one in Prep.objects.get(pk=prep.pk).stored]

    changed([INVERT, {**INVERT, "kind": "grey", "at": 0}])
    first = Prep.objects.get(pk=prep.pk).stored[0]["id"]
    changed([{"op": "copy_operation", "path": ["chain"], "operation": first}])
    assert kinds() == ["grey", "grey", "invert"]
    changed([{"op": "move_operation", "path": ["chain"], "operation": first, "to": 2}])
    assert kinds() == ["grey", "invert", "grey"]


def test_pictures_of_each_stage_and_of_edits_that_are_not_stored(post, prep, scan):
    found = array(picture(post, prep, quality="exact", width=80, height=60).content)
    inverted = array(picture(post, prep, edits=[INVERT], width=80, height=60).content)
    assert np.abs(found.mean((0, 1)) + inverted.mean((0, 1)) - 255).max() < 6
    stage = array(picture(post, prep, edits=[INVERT], stage=0, width=80, height=60).content)
    assert np.abs(stage.astype(int) - found).mean() < 3
    tiled = array(picture(post, prep, way="tiled", width=90, height=90).content)
    assert tiled.shape[1] % 3 == 0
    true = array(picture(post, prep, way="true", width=40, height=30, x=0, y=0).content)
    assert true.shape == (30, 40, 3)
    for asked in ({"width": 99_999}, {"way": "sideways"}, {"stage": -1}, {"x": 7}):
        assert picture(post, prep, **asked).status_code == 422


def test_trials_as_mask_and_as_coat_on_words_and_on_an_own_artwork(post, prep, user):
    from kilnmark.pieces.bringing import bring_in

    svg = (
        b'<svg xmlns="http://www.w3.org/2000/svg" width="90" height="60">'
        b'<rect width="90" height="60"/></svg>'
    )
    art = bring_in(user, "plate.svg", svg)
    url = reverse("prep-trial", args=[prep.pk])
    shown = [
        array(post(url, {"width": 220, "height": 100, **asked}).content)
        for asked in ({"kind": "wear"}, {"kind": "coat"}, {"kind": "wear", "artwork": art.hash})
    ]
    assert len({one.shape for one in shown}) == 1
    assert all(np.abs(shown[0].astype(int) - other).max() > 40 for other in shown[1:])
    assert post(url, {"kind": "here"}).status_code == 422
    assert post(url, {"kind": "wear", "artwork": "0" * 64}).status_code == 404


def test_readings_of_the_ready_texture(signed_in, prep, changed):
    changed([{**INVERT, "kind": "seamless", "settings": {"overlap": 0.2}}])
    told = signed_in.get(reverse("prep-ready", args=[prep.pk])).json()["told"]
    assert "64 × 48 px" in told[0] and "seam" in told[3] and "was" in told[3]


@pytest.mark.parametrize("name", SHIPPED)
def test_those_that_ship_can_be_begun_with_on_any_texture(scan, name):
    made = actions.start(scan, like=name)
    assert made.chain and made.name == name.lower()


def test_a_prep_is_copied_to_another_texture_and_names_stay_apart(signed_in, user, scan, prep, rng):
    other = shelf.upload(user, "b.png", png(rng.integers(0, 256, (40, 40), dtype=np.uint8)))
    actions.change(prep, 1, [INVERT], "x", None)
    signed_in.post(reverse("prep-start", args=[other.pk]), {"like": str(prep.pk)})
    copy = other.preps.get()
    assert [one["kind"] for one in copy.stored] == ["invert"] and copy.name == "plain"
    assert actions.start(scan, "plain").name == "plain 2"
    signed_in.post(reverse("prep-rename", args=[prep.pk]), {"name": "fine specks"})
    assert Prep.objects.get(pk=prep.pk).name == "fine specks"


def use_path(worked):
    return next(way for way, _ in refs_in(worked.document) if "params" in way)


def test_one_use_is_prepared_for_itself_alone_and_undone_on_the_piece(post, change, worked, scan):
    way = use_path(worked)
    asked = {"path": quote(json.dumps(list(way)))}
    edit = {"op": "add_operation", "path": [*way, "chain"], "kind": "invert"}
    assert change(1, [edit]).status_code == 200
    refs = dict(refs_in(Piece.objects.get(pk=worked.pk).document))
    assert [len(ref.chain) for ref in refs.values()].count(1) == 1 and refs[way].chain
    page = reverse("prep-use", args=[worked.pk])
    found = post(f"{page}picture/?path={asked['path']}", {"width": 60, "height": 60})
    assert found.status_code == 200
    here = post(f"{page}trial/?path={asked['path']}", {"kind": "here", "width": 200, "height": 90})
    assert array(here.content).size
    post(reverse("undo", args=[worked.pk]), {"version": 2})
    assert not any(ref.chain for _, ref in refs_in(Piece.objects.get(pk=worked.pk).document))


def test_a_picture_of_a_use_names_nobody_elses_texture(post, worked, django_user_model, rng):
    """A hash that is known is no way in."""
    other = django_user_model.objects.create_user("other")
    theirs = shelf.upload(other, "x.png", png(rng.integers(0, 256, (40, 40), dtype=np.uint8)))
    path = quote(json.dumps(list(use_path(worked))))
    edit = {"op": "set", "path": [*use_path(worked), "hash"], "value": theirs.hash}
    for name in ("picture", "trial"):
        url = reverse(f"prep-use-{name}", args=[worked.pk])
        kind = {"kind": "here"} if name == "trial" else {}
        answer = post(f"{url}?path={path}", {"edits": [edit], **kind})
        assert answer.status_code == 422 and "not yours" in answer.json()["message"]


@pytest.mark.parametrize("path", ["", "[]", "7", '["ground"]', '[["a"]]', '["stack", "x"]', "{"])
def test_a_use_that_is_not_there_is_refused(signed_in, worked, path):
    answer = signed_in.get(reverse("prep-use", args=[worked.pk]), {"path": path})
    assert answer.status_code in (404, 422)


def test_for_all_uses_writes_one_state_into_each_piece_that_can_be_undone(
    post, signed_in, user, worked, scan, prep
):
    from kilnmark.pieces.actions import copied, start, undo

    twin = start(user, copied(worked.document))
    actions.change(prep, 1, [INVERT], "x", None)
    listed = signed_in.get(reverse("prep-uses", args=[prep.pk])).content.decode()
    assert worked.title in listed and "2 pieces" in listed
    assert post(reverse("prep-everywhere", args=[prep.pk]), {}).json() == {"count": 2}
    for piece in (worked, twin):
        row = Piece.objects.get(pk=piece.pk)
        assert row.version == 2 and all(
            ref.chain and ref.prep == str(prep.pk) for _, ref in refs_in(row.document)
        )
    undo(Piece.objects.get(pk=twin.pk), 2)
    assert not any(ref.chain for _, ref in refs_in(Piece.objects.get(pk=twin.pk).document))
    assert all(ref.chain for _, ref in refs_in(Piece.objects.get(pk=worked.pk).document))
    # the prep goes on changing; pieces keep what they have
    actions.change(prep, 2, [INVERT], "x", None)
    assert all(len(ref.chain) == 1 for _, ref in refs_in(Piece.objects.get(pk=worked.pk).document))
    assert len(uses_of(user, scan.hash, str(prep.pk))) == 1
    assert texture_counts(user)[scan.hash] == 2


def test_what_is_done_on_a_piece_is_kept_as_a_prep(signed_in, change, worked, scan):
    way = use_path(worked)
    change(1, [{"op": "add_operation", "path": [*way, "chain"], "kind": "invert"}])
    url = f"{reverse('prep-keep', args=[worked.pk])}?path={json.dumps(list(way))}"
    assert signed_in.post(url, {"name": "the opposite"}).status_code == 302
    assert [one["kind"] for one in scan.preps.get(name="the opposite").stored] == ["invert"]


@pytest.mark.parametrize(
    "way, mode, size",
    [
        ("png8", "L", (80, 60)),
        ("png16", "I;16", (80, 60)),
        ("tiff", "I;16", (80, 60)),
        ("ink", "RGBA", (80, 60)),
    ],
)
def test_ready_textures_are_saved_as_files(signed_in, prep, changed, way, mode, size):
    """Read back by another library than the one that wrote them."""
    changed([{**INVERT, "kind": "grey"}])
    answer = signed_in.get(reverse("prep-file", args=[prep.pk]), {"way": way})
    found = Image.open(io.BytesIO(b"".join(answer.streaming_content)))
    assert (found.mode, found.size) == (mode, size)
    if way == "ink":
        alpha = np.asarray(found)[..., 3].astype(int)
        grey = signed_in.get(reverse("prep-file", args=[prep.pk]), {"way": "png8"})
        tones = np.asarray(Image.open(io.BytesIO(b"".join(grey.streaming_content)))).astype(int)
        assert np.abs(alpha - (255 - tones)).max() <= 1  # its darks are ink


def test_a_tile_is_saved_seamless(signed_in, prep):
    from kilncore.measure import seam

    answer = signed_in.get(reverse("prep-file", args=[prep.pk]), {"way": "png8", "tile": ""})
    found = np.asarray(Image.open(io.BytesIO(b"".join(answer.streaming_content))))
    assert found.shape[0] < 60 and max(seam(found / 255)) < 1.4
    assert signed_in.get(reverse("prep-file", args=[prep.pk]), {"way": "gif"}).status_code == 422


def test_a_prep_goes_to_the_bin_and_comes_back(signed_in, prep):
    signed_in.post(reverse("throw-away", args=["prep", prep.pk]))
    assert signed_in.get(reverse("prep", args=[prep.pk])).status_code == 404
    assert "Quay scan, plain" in signed_in.get(reverse("bin")).content.decode()
    assert signed_in.get(reverse("prep-sample", args=[prep.pk])).status_code == 200
    signed_in.post(reverse("fetch-back", args=["prep", prep.pk]))
    assert signed_in.get(reverse("prep", args=[prep.pk])).status_code == 200


def test_a_texture_is_tried_on_the_mark(signed_in, worked, scan, rng, user):
    other = shelf.upload(user, "b.png", png(np.full((40, 40), 3, np.uint8)))
    way, part = use_path(worked), worked.document.stack[0].id

    def tried(value, version=1, part=part):
        edits = json.dumps([{"op": "set", "path": list(way), "value": value}])
        asked = {"version": version, "part": part, "edits": edits}
        return signed_in.get(reverse("tried", args=[worked.pk]), asked)

    now, black = (array(tried(value).content) for value in (scan.ref, other.ref))
    assert np.abs(now.astype(int) - black).max() > 30
    assert Piece.objects.get(pk=worked.pk).version == 1
    assert tried(other.ref, 9).status_code == 409 and tried(other.ref, part="x").status_code == 422
    assert tried({"hash": "0" * 64, "edges": "repeat"}).status_code == 422
    for edits in ("", "{}", "[7]", "[" * 2000):
        asked = {"version": 1, "part": part, "edits": edits}
        assert signed_in.get(reverse("tried", args=[worked.pk]), asked).status_code in (200, 422)


@pytest.mark.parametrize("taken, kinds", [("ink", 5), ("colour", 3)])
def test_a_texture_is_taken_from_a_photo_in_three_steps(signed_in, user, rng, taken, kinds):
    """Brought in, framed, put on the shelf: seamless, as large as its frame made endless."""
    photo = rng.integers(0, 256, (240, 300, 3), dtype=np.uint8)
    file = SimpleUploadedFile("Worn sign.png", png(photo))
    answer = signed_in.post(
        reverse("prep-from-photo"), {"file": file, "taken": taken, "credit": "The mate"}
    )
    assert answer.status_code == 302
    prep = user.preps.get()
    assert len(prep.stored) == kinds and prep.stored[0]["kind"] == "crop"
    page = signed_in.get(answer["location"]).content.decode()
    assert f'data-choose="{prep.stored[0]["id"]}"' in page and 'x-data="crop"' in page
    done = signed_in.post(reverse("prep-shelve", args=[prep.pk]), {"name": "Sign, endless"})
    taken_one = user.textures.get(name="Sign, endless")
    assert done["location"] == reverse("texture", args=[taken_one.pk])
    # 0.6 of 300 x 240 px, three times as large
    assert (taken_one.width, taken_one.height) == (540, 432)
    assert taken_one.tiles and taken_one.credit == "The mate"
    planes = assets().source(taken_one.hash).planes
    assert len(planes) == (1 if taken == "ink" else 3)


def test_nobody_else_puts_it_on_the_shelf(stranger, user, scan):
    prep = actions.start(scan)
    assert stranger.post(reverse("prep-shelve", args=[prep.pk])).status_code == 404
