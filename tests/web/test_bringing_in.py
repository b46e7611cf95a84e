"""Bringing files in: onto a piece, as its ground, as a new piece; and what is refused."""

import html
import io
import json
import re

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from PIL import Image

from kilncore.document import load
from kilnmark.bench.changes.snapshot import colours_of
from kilnmark.pieces import actions, bringing
from kilnmark.pieces.models import Artwork, Piece
from tests.documents import mark, piece
from tests.pdfs import LOCKED, TWO
from tests.pictures import jpeg, png
from tests.web.flat import flat

SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 50 50"><g id="moon"><circle cx="25" '
    b'cy="25" r="20" fill="#e3b04b"/></g><rect id="sea" y="40" width="50" height="10" '
    b'fill="#142952"/></svg>'
)
BADGE = np.full((120, 160, 3), 252, np.uint8)
BADGE[30:90, 40:120] = (30, 60, 110)
PHOTO = np.random.default_rng(3).integers(0, 256, (90, 140, 3), dtype=np.uint8)


def files(*named):
    return [SimpleUploadedFile(name, data) for name, data in named]


@pytest.fixture
def send(signed_in, worked):
    def sent(*named, version=1, **more):
        data = {"file": files(*named), "version": version, **more}
        url = reverse("bring-in", args=[worked.pk])
        return signed_in.post(url, data, headers={"accept": "application/json"})

    return sent


def test_a_picture_is_brought_in_and_knocked_out(send, post, worked, signed_in):
    told = send(("night-mail badge.png", png(BADGE)), x="120", y="90").json()
    new = told["document"]["stack"][-1]
    assert new["name"] == "night mail badge" and new["art"]["kind"] == "picture"
    assert [new["placement"][axis]["value"] for axis in "xy"] == [120, 90]
    assert new["placement"]["scale"] == 1  # enlarged only by hand
    (operation,) = new["art"]["chain"]  # a logo on white comes in knocked out, and says so
    assert operation["kind"] == "knock-out" and operation["colours"] == ["#fcfcfc"]
    page = signed_in.get(reverse("sheet", args=[worked.pk]), {"part": new["id"], "step": "bare"})
    assert b"Its plain background is knocked out" in page.content
    path = ["stack", new["id"], "art", "chain"]
    edit = {"op": "remove_operation", "path": path, "operation": operation["id"]}
    post(reverse("change", args=[worked.pk]), {"version": 2, "edits": [edit]})
    page = signed_in.get(reverse("sheet", args=[worked.pk]), {"part": new["id"], "step": "bare"})
    assert b"On a plain background" in page.content
    edit = {"op": "add_operation", "path": path, "kind": "knock-out"}
    told = post(reverse("change", args=[worked.pk]), {"version": 3, "edits": [edit]}).json()
    (operation,) = told["document"]["stack"][-1]["art"]["chain"]
    assert operation["colours"] == ["#fcfcfc"]
    page = signed_in.get(reverse("sheet", args=[worked.pk]), {"part": new["id"], "step": "bare"})
    assert b"On a plain background" not in page.content and b"Tolerance" in page.content


def test_several_files_are_one_change_laid_out_evenly(send, worked):
    named = [(f"icon {n}.svg", SVG.replace(b'r="20"', b'r="%d"' % (10 + n))) for n in range(8)]
    told = send(*named).json()
    assert told["version"] == 2 and told["undo"] == "8 marks brought in"
    new = told["document"]["stack"][-8:]
    places = [(one["placement"]["x"]["value"], one["placement"]["y"]["value"]) for one in new]
    assert len(set(places)) == 8 and len({one["placement"]["scale"] for one in new}) == 1
    rows = sorted({y for _, y in places})
    assert len(rows) in (2, 3) and len({b - a for a, b in zip(rows, rows[1:], strict=False)}) == 1
    boxes = [told["boxes"][one["id"]] for one in new]
    assert all(0 < box["x"] < 400 and 0 < box["y"] < 300 for box in boxes)


def test_one_that_cannot_be_used_does_not_keep_out_the_others(send, worked):
    told = send(("good.svg", SVG), ("bad.png", b"\x89PNG\r\n\x1a\n junk")).json()
    assert told["document"]["stack"][-1]["name"] == "good"
    assert "bad.png: This picture is damaged" in told["note"]


@pytest.mark.parametrize(
    "named, reason",
    [
        ([], "Choose a file"),
        ([("a.png", b"")], "empty"),
        ([("a.png", b"GIF89a")], "damaged"),
        ([("a.svg", b"<svg/>"), ("b.jpg", b"\xff\xd8\xff")], "a.svg: .*b.jpg: "),
        ([(f"{n}.svg", SVG) for n in range(41)], "40 files at a time"),
    ],
)
def test_what_cannot_be_used_leaves_nothing(send, worked, named, reason):
    response = send(*named)
    assert response.status_code == 422
    assert __import__("re").search(reason, response.json()["message"])
    worked.refresh_from_db()
    assert worked.version == 1 and not Artwork.objects.exists()


@pytest.mark.parametrize("wrong", [{"x": "nan", "y": "1"}, {"as": "poster"}, {"version": "x"}])
def test_odd_places_are_refused(send, worked, wrong):
    assert send(("a.svg", SVG), **wrong).status_code == 422


def test_sent_twice_it_comes_once(send, worked):
    token = "0123456789abcdef"
    first = send(("a.svg", SVG), token=token).json()
    again = send(("a.svg", SVG), token=token).json()
    assert len(again["document"]["stack"]) == len(first["document"]["stack"]) == 2


def test_a_picture_becomes_the_ground(send, worked):
    told = send(("wall.jpg", jpeg(PHOTO)), **{"as": "ground"}).json()
    fill = told["document"]["ground"]["fill"]
    assert (fill["kind"], fill["fit"], fill["width"]) == ("picture", "cover", 140)
    assert told["undo"] == "Ground"
    refused = send(("a.svg", SVG), version=2, **{"as": "ground"})
    assert refused.status_code == 422 and "comes in as a mark" in refused.json()["message"]


def test_a_drawing_is_parted(send, post, worked, signed_in):
    told = send(("night.svg", SVG)).json()
    new = told["document"]["stack"][-1]
    edit = {"op": "part_mark", "mark": new["id"], "way": "group"}
    told = post(reverse("change", args=[worked.pk]), {"version": 2, "edits": [edit]}).json()
    names = [one["name"] for one in told["document"]["stack"][1:]]
    assert names == ["night moon", "night sea"]
    assert told["document"]["stack"][1]["placement"] == new["placement"]
    part = {"part": told["document"]["stack"][1]["id"], "step": "bare"}
    page = signed_in.get(reverse("sheet", args=[worked.pk]), part).content.decode()
    assert "Part by group" not in page
    for wrong in (
        {"op": "part_mark", "mark": worked.document.stack[0].id, "way": "colour"},
        {"op": "part_mark", "mark": new["id"], "way": 3},
        {"op": "part_mark", "mark": ["x"], "way": "colour"},
        {"op": "part_mark"},
    ):
        answer = post(reverse("change", args=[worked.pk]), {"version": 3, "edits": [wrong]})
        assert answer.status_code == 422


def test_the_pieces_own_colours_are_told(send, worked):
    told = send(("night.svg", SVG), ("badge.png", png(BADGE))).json()
    assert {"#e3b04b", "#142952", "#1e3c6e", "#c03020"} <= set(told["colours"])
    document = load(worked.document.model_dump())
    assert "#c03020" in colours_of(document, {})


def test_the_source_of_an_operation_is_a_small_picture(send, post, signed_in, worked):
    large = np.kron(BADGE, np.ones((8, 8, 1), np.uint8))
    new = send(("badge.png", png(large))).json()["document"]["stack"][-1]
    path = ["stack", new["id"], "art", "chain"]
    edits = [{"op": "add_operation", "path": path, "kind": kind} for kind in ("crop",)]
    told = post(reverse("change", args=[worked.pk]), {"version": 2, "edits": edits}).json()
    chain = told["document"]["stack"][-1]["art"]["chain"]
    url = reverse("picture-source", args=[worked.pk])

    def asked(path, operation):
        return signed_in.get(url, {"path": path, "operation": operation})

    from tests.pictures import array

    before, after = (array(asked(json.dumps(path[:-1]), one["id"]).content) for one in chain)
    assert max(before.shape) < 700 and before.shape[2] == 3 and after.shape[2] == 4
    assert after[2, 2, 3] == 0
    for wrong in ("[", '["stack"]', '["title"]', '["__class__"]', '["stack", "x", "art"]', "[[]]"):
        assert asked(wrong, chain[0]["id"]).status_code == 422
    assert asked(json.dumps(path[:-1]), "gone").status_code == 422


def test_a_picture_becomes_the_ground_and_a_mark_again(send, post, signed_in, worked):
    """With the edits that the sheets offer."""
    new = send(("badge.png", png(BADGE))).json()["document"]["stack"][-1]

    def offered(part, name):
        page = signed_in.get(reverse("sheet", args=[worked.pk]), {"part": part, "step": "bare"})
        found = re.search(rf'data-edit="([^"]*)"[^>]*data-{name}', page.content.decode())
        return json.loads(html.unescape(found[1]))

    edits = offered(new["id"], "make-ground")
    told = post(reverse("change", args=[worked.pk]), {"version": 2, "edits": edits}).json()
    fill = told["document"]["ground"]["fill"]
    assert fill["kind"] == "picture" and fill["hash"] == new["art"]["hash"]
    assert new["id"] not in [one["id"] for one in told["document"]["stack"]]
    edits = offered("ground", "make-mark")
    told = post(reverse("change", args=[worked.pk]), {"version": 3, "edits": edits}).json()
    assert told["document"]["ground"]["fill"]["kind"] == "colour"
    assert told["document"]["stack"][-1]["art"]["hash"] == new["art"]["hash"]


def test_pale_surfaces_are_no_plain_backgrounds(rng):
    """Stone, paper and boards: pale all over. A logo on white, as a JPEG too, is one."""
    from kilncore.artwork.intake import brought_in

    pale = 225 + 7 * rng.standard_normal((300, 400, 3))
    assert brought_in(png(np.clip(pale, 0, 255).astype(np.uint8))).facts["plain"] is None
    assert brought_in(png(np.full((300, 400, 3), 240, np.uint8))).facts["plain"] is None
    logo = np.full((300, 400, 3), 252, np.uint8)
    logo[100:200, 120:280] = (30, 60, 110)
    assert brought_in(png(logo)).facts["plain"] == "#fcfcfc"
    found = io.BytesIO()
    Image.fromarray(logo).save(found, "JPEG", quality=80)
    assert brought_in(found.getvalue()).facts["plain"]


# --- whose they are ---


def test_pictures_are_their_owners_alone(send, post, worked, django_user_model):
    thief = django_user_model.objects.create_user("thief", password="hawser-and-fender")
    theirs = bringing.bring_in(thief, "badge.png", png(BADGE))
    art = theirs.art.model_dump(mode="json")
    placed = mark(art)
    for edit in (
        {"op": "add_mark", "mark": placed},
        {"op": "set", "path": ["ground", "fill"], "value": {**art, "fit": "cover"}},
    ):
        answer = post(reverse("change", args=[worked.pk]), {"version": 1, "edits": [edit]})
        assert answer.status_code == 422 and "not yours" in answer.json()["message"]


def test_a_drawing_is_no_picture_and_a_picture_no_drawing(user, worked, post):
    drawing = bringing.bring_in(user, "night.svg", SVG)
    art = {"kind": "picture", "hash": drawing.hash, "width": 50, "height": 50, "chain": []}
    edit = {"op": "add_mark", "mark": mark(art)}
    answer = post(reverse("change", args=[worked.pk]), {"version": 1, "edits": [edit]})
    assert answer.status_code == 422
    picture = bringing.bring_in(user, "badge.png", png(BADGE))
    art = {"kind": "vector", "hash": picture.hash, "width": 50, "height": 50}
    edit = {"op": "add_mark", "mark": mark(art)}
    answer = post(reverse("change", args=[worked.pk]), {"version": 1, "edits": [edit]})
    assert answer.status_code == 422


# --- a piece from a file ---


@pytest.mark.parametrize(
    "name, data, place, size, ground, marks",
    [
        ("quay.jpg", jpeg(PHOTO), "auto", (140, 90), "picture", 0),
        ("quay.jpg", jpeg(PHOTO), "mark", (140, 90), "colour", 1),
        ("badge.png", png(BADGE), "auto", (160, 120), "colour", 1),
        ("badge.png", png(BADGE), "ground", (160, 120), "picture", 0),
        ("moon.svg", SVG, "auto", (156, 156), "colour", 1),
    ],
)
def test_a_piece_starts_from_a_file_at_its_size(signed_in, name, data, place, size, ground, marks):
    url = reverse("piece-start-from")
    answer = signed_in.post(url, {"file": files((name, data)), "place": place})
    assert answer.status_code == 302
    document = Piece.objects.get().document
    assert (document.size_px, document.ground.fill.kind) == (size, ground)
    assert len(document.stack) == marks and document.title == name.split(".")[0]


@pytest.mark.parametrize(
    "data, reason",
    [
        (b"MZ" * 20, b"neither an SVG, a PDF nor"),
        (png(BADGE[:20, :15]), b"16 px is the least"),
        (None, b"Choose a"),
    ],
)
def test_a_file_that_cannot_start_a_piece_is_refused_on_the_page(signed_in, data, reason):
    sent = {"file": files(("a.png", data))} if data else {}
    answer = signed_in.post(reverse("piece-start-from"), sent)
    assert answer.status_code == 422 and reason in answer.content
    assert not Piece.objects.exists() and not Artwork.objects.exists()


def test_documents_of_before_hold_their_drawings(user):
    """An artwork that was brought in before facts were told has none; its sheet is drawn."""
    drawing = bringing.bring_in(user, "night.svg", SVG)
    Artwork.objects.update(facts={})
    document = piece(mark(drawing.art.model_dump(mode="json")))
    started = actions.start(user, load(document.model_dump()))
    from kilnmark.bench.changes.snapshot import artworks_of
    from kilnmark.bench.sheet.sheets import sheet_for

    sheet = sheet_for(started.document, document.stack[0].id, "bare", artworks_of(started), {})
    assert sheet.ways_to_part == []
    assert bringing.bring_in(user, "night.svg", SVG).facts["groups"] == ["moon", "sea"]


# Its edge is plain but for a third: a drawing, or a photograph of a wall?
UNSURE = np.full((120, 160, 3), 236, np.uint8)
UNSURE[:, :20] = (120, 90, 60)
UNSURE[30:90, 60:120] = (30, 60, 110)


def test_where_it_cannot_be_known_there_is_one_question_with_two_pictures(signed_in, stranger):
    sent = {"file": files(("wall.png", png(UNSURE))), "place": "auto"}
    answer = signed_in.post(reverse("piece-start-from"), sent)
    (artwork,) = Artwork.objects.all()
    assert artwork.unsure == "#ececec" and not Piece.objects.exists()
    url = reverse("piece-start-as", args=[artwork.pk])
    assert answer["location"] == url
    page = signed_in.get(url).content.decode()
    for name in ("artwork-knocked-out", "artwork-picture"):
        picture = reverse(name, args=[artwork.pk])
        assert picture in page and signed_in.get(picture).status_code == 200
        assert stranger.get(picture).status_code == 404
    assert stranger.get(url).status_code == 404
    assert signed_in.post(url, {"place": "ground"}).status_code == 302
    assert Piece.objects.get().document.ground.fill.kind == "picture"
    Piece.objects.all().delete()
    signed_in.post(url, {"place": "mark"})
    (mark_,) = Piece.objects.get().document.stack
    assert mark_.art.chain[0].colours == ("#ececec",) and mark_.art.chain[0].plain_holes


def test_what_was_left_out_of_a_drawing_is_told_on_the_page_and_its_sheet(signed_in):
    svg = SVG.replace(b"<rect", b'<image width="9" height="9" href="x.png"/><rect')
    answer = signed_in.post(reverse("piece-start-from"), {"file": files(("leaf.svg", svg))})
    assert "placed pictures" in html.unescape(signed_in.get(answer["location"]).content.decode())
    piece_ = Piece.objects.get()
    part = piece_.document.stack[0].id
    sheet = signed_in.get(reverse("sheet", args=[piece_.pk]), {"part": part, "step": "bare"})
    assert "Left out of the SVG: placed pictures" in sheet.content.decode()


def test_a_ring_comes_in_with_its_hole_knocked_out_and_told(signed_in):
    ring = np.full((160, 160, 3), 252, np.uint8)
    y, x = np.mgrid[:160, :160]
    away = np.hypot(x - 80, y - 80)
    ring[(away < 60) & (away > 30)] = (30, 60, 110)
    signed_in.post(reverse("piece-start-from"), {"file": files(("ring.png", png(ring)))})
    piece_ = Piece.objects.get()
    part = piece_.document.stack[0].id
    url = reverse("sheet", args=[piece_.pk])
    sheet = flat(signed_in.get(url, {"part": part, "step": "bare"}))
    assert "and 1 hole that is as plain" in sheet and "Keep the hole" in sheet


def test_history_says_what_changed_and_of_which_part(change, worked):
    first, steps = worked.document.stack[0].id, worked.document.stack[0].treatment
    path = ["stack", first, "treatment", steps[0].id, "on"]
    change(1, [{"op": "set", "path": path, "value": False}])
    change(2, [{"op": "set", "path": ["stack", first, "name"], "value": "Gull"}])
    change(3, [{"op": "add_step", "part": "ground", "kind": "soften"}])
    told = list(worked.states.order_by("pk").values_list("on", flat=True))
    assert told[1].endswith("on Gull") and told[2:] == ["Gull", "Soften on Ground"]


def test_a_pdf_comes_in_with_its_first_page_and_another_is_chosen(send, post, worked, signed_in):
    told = send(("sailing bill.pdf", TWO)).json()
    new = told["document"]["stack"][-1]
    assert new["name"] == "sailing bill" and new["art"]["kind"] == "page"
    assert new["art"]["page"] == 0 and new["art"]["width"] == pytest.approx(833.333, abs=0.01)
    page = signed_in.get(reverse("sheet", args=[worked.pk]), {"part": new["id"], "step": "bare"})
    (row,) = worked.owner.artworks.filter(kind="page")
    first, second = (reverse("page-picture", args=[row.pk, n]) for n in (0, 1))
    assert first in page.content.decode() and second in page.content.decode()
    pictures = [signed_in.get(url) for url in (first, second)]
    assert [one["Content-Type"] for one in pictures] == ["image/png"] * 2
    assert pictures[0].content != pictures[1].content
    assert signed_in.get(reverse("page-picture", args=[row.pk, 2])).status_code == 422
    edits = re.search(r'data-edit="([^"]*)"[^>]*data-page="1"', page.content.decode(), re.S)
    edits = json.loads(html.unescape(edits[1]))
    told = post(reverse("change", args=[worked.pk]), {"version": 2, "edits": edits}).json()
    art = told["document"]["stack"][-1]["art"]
    assert art["page"] == 1 and art["width"] == art["height"] == pytest.approx(583.333, abs=0.01)


def test_a_pdf_that_cannot_be_read_leaves_the_piece(send, worked):
    answer = send(("locked.pdf", LOCKED))
    assert answer.status_code == 422 and "password" in answer.json()["message"]
    assert not worked.owner.artworks.filter(kind="page").exists()


def test_a_pdf_of_another_is_not_shown(send, worked, django_user_model, client):
    send(("bill.pdf", TWO))
    (row,) = worked.owner.artworks.filter(kind="page")
    client.force_login(django_user_model.objects.create_user("stoker"))
    assert client.get(reverse("page-picture", args=[row.pk, 0])).status_code == 404


def test_colours_that_nothing_shows_are_none_of_the_piece():
    """Of lines that are switched off, and of a rim that is not there."""
    words = {"kind": "lettering", "text": "A", "size": {"value": 40}, "colour": "#123456"}
    document = piece(mark(words), mark({"kind": "shape", "colour": "#654321"}))
    assert colours_of(document, {})[:2] == ["#123456", "#654321"]
    assert not {"#b23a1c", "#f4f0e7", "#20262a"} & set(colours_of(document, {}))
    lined = piece(mark(words | {"lines": {"outlined": "inside"}}))
    assert "#b23a1c" in colours_of(lined, {})
