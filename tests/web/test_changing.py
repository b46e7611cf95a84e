"""Changing a piece: saved as it is made, undone and redone, refused when stale, never half-done."""

import numpy as np
import pytest
from django.urls import reverse

from kilncore.document import load
from kilncore.model.files import TextureHash
from kilnmark.pieces import actions
from kilnmark.pieces.models import Artwork, Piece, State
from tests.documents import lettering, mark, piece, step
from tests.pictures import array

pytestmark = pytest.mark.django_db


def set_ppi(value):
    return [{"op": "set", "path": ["ppi"], "value": value}]


@pytest.fixture
def step_back(post, worked):
    return lambda way, version: post(reverse(way, args=[worked.pk]), {"version": version})


def test_a_change_is_saved_with_its_history(change, worked):
    told = change(1, set_ppi(150), "Resolution").json()
    assert (told["version"], told["undo"], told["redo"]) == (2, "Resolution", "")
    worked.refresh_from_db()
    assert worked.document.ppi == 150 and worked.states.count() == 2


def test_undo_then_redo_is_identity(change, step_back, worked):
    for version, ppi in enumerate((100, 200, 400), 1):
        change(version, set_ppi(ppi))
    before = Piece.objects.get(pk=worked.pk).document
    for n in range(3):
        told = step_back("undo", 4 + n).json()
    assert told["document"]["ppi"] == 300 and not told["undo"]
    for n in range(3):
        told = step_back("redo", 7 + n).json()
    assert Piece.objects.get(pk=worked.pk).document == before and not told["redo"]


def test_nothing_to_undo_is_said(step_back):
    response = step_back("undo", 1)
    assert response.status_code == 422 and "nothing to undo" in response.json()["message"]


def test_another_way_after_an_undo_keeps_the_old_one(change, step_back, worked):
    change(1, set_ppi(100))
    step_back("undo", 2)
    told = change(3, set_ppi(200)).json()
    assert told["redo"] == "" and told["document"]["ppi"] == 200
    assert sorted(s.document.ppi for s in State.objects.filter(piece=worked)) == [100, 200, 300]


def test_a_stale_change_is_refused_and_writes_nothing(change, worked):
    assert change(1, set_ppi(150)).status_code == 200
    response = change(1, set_ppi(99))
    assert response.status_code == 409 and response.json()["reason"] == "stale"
    worked.refresh_from_db()
    assert worked.document.ppi == 150 and worked.states.count() == 2


@pytest.mark.parametrize(
    "edits",
    [
        set_ppi(-1),
        [{"op": "sparkle"}],
        "text",
        [{"op": "set", "path": ["stack"], "value": 3}],
        set_ppi("a") * 60,
    ],
)
def test_a_change_that_does_not_fit_writes_nothing(change, worked, edits):
    response = change(1, edits)
    assert response.status_code == 422 and response.json()["message"]
    worked.refresh_from_db()
    assert worked.version == 1 and worked.states.count() == 1


def test_a_change_to_what_is_already_so_makes_no_history(change, worked):
    assert change(1, set_ppi(300)).json()["version"] == 1
    assert worked.states.count() == 1


def test_a_new_step_begins_with_a_texture_of_ones_own(change, worked, scan):
    part = worked.document.stack[0].id
    told = change(1, [{"op": "add_step", "part": part, "kind": "wear"}]).json()
    assert told["document"]["stack"][0]["treatment"][-1]["params"]["texture"]["hash"] == scan.hash


def test_lettering_lands_in_the_middle(post, worked):
    told = post(
        reverse("add-lettering", args=[worked.pk]), {"version": 1, "text": "Night\nferry"}
    ).json()
    new = told["document"]["stack"][-1]
    assert new["art"]["text"] == "Night\nferry" and new["placement"]["x"]["value"] == 200
    box = told["boxes"][new["id"]]
    assert 10 < box["width"] <= 400 * 0.71 and box["height"] < 300


SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 50 50"><circle cx="25" cy="25" r="20"/><filter/></svg>'  # noqa: E501


def send_svg(client, worked, data, version=1):
    from django.core.files.uploadedfile import SimpleUploadedFile

    return client.post(
        reverse("bring-in", args=[worked.pk]),
        {"file": SimpleUploadedFile("Moon.svg", data), "version": version},
        headers={"accept": "application/json"},
    )


def test_an_svg_is_brought_in(signed_in, worked):
    told = send_svg(signed_in, worked, SVG).json()
    new = told["document"]["stack"][-1]
    assert (
        new["name"] == "Moon"
        and new["art"]["kind"] == "vector"
        and "filter effects" in told["note"]
    )
    assert told["boxes"][new["id"]]["height"] == pytest.approx(210)


@pytest.mark.parametrize(
    "data, reason",
    [
        (b"not a picture", "neither an SVG, a PDF nor"),
        (SVG[:60], "damaged"),
        (SVG.replace(b"circle", b"filter"), "nothing to draw"),
    ],
)
def test_an_svg_that_cannot_be_used_leaves_nothing(signed_in, worked, data, reason):
    response = send_svg(signed_in, worked, data)
    assert response.status_code == 422 and reason in response.json()["message"]
    worked.refresh_from_db()
    assert worked.version == 1 and not Artwork.objects.exists()


def test_the_stage_shows_unsaved_edits(post, worked):
    view = {"x": 0, "y": 0, "width": 400, "height": 300, "scale": 1}
    asked = {"version": 1, "view": view, "quality": "exact", "sequence": 1, "bench": "a"}
    fill = [
        {"op": "set", "path": ["ground", "fill"], "value": {"kind": "colour", "colour": "#102030"}}
    ]
    response = post(reverse("stage", args=[worked.pk]), {**asked, "edits": fill})
    assert response["content-type"] == "image/png" and tuple(array(response.content)[0, 0]) == (
        0x10,
        0x20,
        0x30,
    )
    draft = post(reverse("stage", args=[worked.pk]), {**asked, "quality": "draft", "sequence": 2})
    assert draft["content-type"] == "image/jpeg" and array(draft.content).shape == (300, 400, 3)
    worked.refresh_from_db()
    assert worked.version == 1


def test_the_exact_stage_is_what_fires(post, worked, tmp_path):
    from kilncore.output.fire import fire
    from kilnmark.storage import assets

    view = {"x": 0, "y": 0, "width": 400, "height": 300, "scale": 1}
    shown = array(
        post(
            reverse("stage", args=[worked.pk]), {"version": 1, "view": view, "quality": "exact"}
        ).content
    )
    fired = fire(worked.document, tmp_path / "out.png", assets())
    np.testing.assert_array_equal(shown, array(fired.path.read_bytes()))


@pytest.mark.parametrize(
    "asked",
    [
        {},
        {"view": {}},
        {"view": {"x": 0, "y": 0, "width": 1e5, "height": 1e5, "scale": 9}},
        {"view": "all"},
        {"view": {"x": 0, "y": 0, "width": 40, "height": 40, "scale": True}},
        {"view": {"x": 9e5, "y": 0, "width": 40, "height": 40, "scale": 1}},
    ],
)
def test_a_view_that_cannot_be_shown_is_refused(post, worked, asked):
    response = post(reverse("stage", args=[worked.pk]), {"version": 1, **asked})
    assert response.status_code == 422 and response.json()["message"]


def test_an_older_picture_gives_way(post, worked):
    view = {"x": 0, "y": 0, "width": 400, "height": 300, "scale": 0.9}
    asked = {"version": 1, "view": view, "bench": "b"}
    assert post(reverse("stage", args=[worked.pk]), {**asked, "sequence": 5}).status_code == 200
    response = post(
        reverse("stage", args=[worked.pk]), {**asked, "view": {**view, "scale": 0.8}, "sequence": 4}
    )
    assert response.status_code == 409 and response.json()["reason"] == "superseded"


def test_strip_pictures_are_kept_by_their_key(signed_in, worked):
    from kilnmark.bench.strip.frames import frames

    document = worked.document
    part = document.stack[0].id
    for frame in frames(document, part):
        url = reverse("strip-picture", args=[worked.pk, part, frame.number, frame.key])
        response = signed_in.get(url)
        assert array(response.content).shape[0] <= 153 and "immutable" in response["cache-control"]
    assert (
        "no-store"
        in signed_in.get(reverse("strip-picture", args=[worked.pk, part, 0, "old"]))[
            "cache-control"
        ]
    )
    assert (
        signed_in.get(reverse("strip-picture", args=[worked.pk, part, 99, "x"])).status_code == 422
    )


def test_every_sheet_opens(signed_in, worked):
    document = worked.document
    for part, treatment in document.treatments().items():
        for chosen in ["bare", "lands", *(s.id for s in treatment)]:
            response = signed_in.get(
                reverse("sheet", args=[worked.pk]), {"part": part, "step": chosen}
            )
            assert response.status_code == 200 and b"<h2>" in response.content


def test_a_piece_in_the_bin_is_not_worked_on_until_it_is_back(signed_in, worked):
    states = State.objects.count()
    signed_in.post(reverse("throw-away", args=["piece", worked.pk]))
    assert signed_in.get(reverse("bench", args=[worked.pk])).status_code == 404
    assert worked.title not in signed_in.get(reverse("pieces")).content.decode().split("notice")[0]
    assert worked.title in signed_in.get(reverse("bin")).content.decode()
    signed_in.post(reverse("fetch-back", args=["piece", worked.pk]))
    assert signed_in.get(reverse("bench", args=[worked.pk])).status_code == 200
    assert State.objects.count() == states


def test_two_at_once_one_wins(worked):
    actions.change(worked, 1, set_ppi(100), "one")
    with pytest.raises(actions.Stale):
        actions.change(worked, 1, set_ppi(200), "two")


def test_out_of_memory_is_said_and_the_next_picture_comes(post, worked, monkeypatch):
    """The picture fails alone: the piece, the server and the next picture are whole."""
    from kilncore import engine

    asked = {
        "version": worked.version,
        "view": {"x": 0, "y": 0, "width": 40, "height": 30, "scale": 1},
        "quality": "exact",
    }
    with monkeypatch.context() as patch:

        def starved(*args, **more):
            raise MemoryError

        patch.setattr(engine, "pixels", starved)
        refused = post(reverse("stage", args=[worked.pk]), asked)
    assert (
        refused.status_code == 503
        and "memory" in refused.json()["message"]
        and "saved" in refused.json()["message"]
    )
    assert post(reverse("stage", args=[worked.pk]), asked).status_code == 200


def test_a_texture_file_that_broke_is_said(post, worked):
    from kilnmark.storage import assets

    store = assets()
    file = next(iter(worked.document.files(TextureHash)))
    whole = store.data(file)
    asked = {
        "version": worked.version,
        "view": {"x": 0, "y": 0, "width": 40, "height": 30, "scale": 1},
        "quality": "exact",
    }
    try:
        store.path(file).write_bytes(whole[: len(whole) // 2])
        store.forget(file)
        assert (
            post(
                reverse("stage", args=[worked.pk]),
                {
                    **asked,
                    "edits": [
                        {
                            "op": "set",
                            "path": ["ground", "fill", "placement", "scale"],
                            "value": 1.37,
                        }
                    ],
                },
            ).status_code
            == 422
        )
    finally:
        store.path(file).write_bytes(whole)
    assert post(reverse("stage", args=[worked.pk]), asked).status_code == 200


def test_the_bench_says_that_the_kiln_is_still_cold(signed_in, worked):
    from kilncore.warm_up import READY

    was = READY.is_set()
    try:
        for warm in (False, True):
            READY.set() if warm else READY.clear()
            page = signed_in.get(reverse("bench", args=[worked.pk])).content.decode()
            assert f'data-warm="{str(warm).lower()}"' in page
    finally:
        READY.set() if was else READY.clear()


@pytest.mark.parametrize("part, colour", [("mark", "#c03020"), ("ground", "#d8d0c0")])
def test_a_landing_that_is_kept_to_a_colour_begins_with_the_largest_of_its_art(
    user, post, part, colour
):
    grain = step("grain")
    document = piece(mark(lettering(colour="#c03020"), treatment=[grain])).model_dump(mode="json")
    document["ground"]["treatment"] = [document["stack"][0]["treatment"][0] | {"id": "0f0f0f0f"}]
    made = actions.start(user, load(document))
    way = ["stack", made.document.stack[0].id] if part == "mark" else ["ground"]
    where = made.document.stack[0] if part == "mark" else made.document.ground
    path = [*way, "treatment", where.treatment[0].id, "landing", "limits"]
    edit = {"op": "set", "path": path, "value": [{"kind": "colour"}]}
    answer = post(reverse("change", args=[made.pk]), {"version": 1, "edits": [edit]})
    assert answer.status_code == 200
    after = type(made).objects.get(pk=made.pk).document
    held = after.stack[0] if part == "mark" else after.ground
    assert held.treatment[0].landing.limits[0].colour == colour


def test_the_strip_tells_a_mode_only_where_it_counts(user, signed_in, scan):
    coats = [step("coat", "multiply", 0.8, texture=scan.ref, way=way) for way in ("mode", "both")]
    document = piece(mark(treatment=coats)).model_dump(mode="json")
    made = actions.start(user, load(document))
    asked = {"part": made.document.stack[0].id, "step": "bare"}
    page = signed_in.get(reverse("strip", args=[made.pk]), asked).content.decode()
    assert "multiply 80 %, on the art" in page
    assert ">80 %, lights and darks" in page and "multiply 80 %, lights" not in page
