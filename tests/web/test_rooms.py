"""Pieces, shelf, makers, firings and the command line."""

import io
import json
from datetime import timedelta
from zipfile import ZipFile

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from kilncore.document import dump
from kilncore.model.files import TextureHash
from kilncore.prep.texture_ref import TextureRef
from kilnmark.cli import main
from kilnmark.firings import actions as firings
from kilnmark.firings.models import Firing
from kilnmark.pieces.models import Piece
from kilnmark.shelf import actions as shelf
from kilnmark.shelf.models import Texture
from tests.pictures import array, jpeg, png
from tests.web.flat import flat

pytestmark = pytest.mark.django_db(transaction=True)


def start(client, **fields):
    data = {
        "title": "Label",
        "width": 120,
        "height": 60,
        "unit": "mm",
        "ppi": 300,
        "ground": "colour",
    } | fields
    return client.post(reverse("piece-start"), data)


def test_a_piece_is_started_in_millimetres(signed_in):
    """120 mm at 300 ppi: 120 / 25.4 * 300 = 1417 px."""
    assert start(signed_in).status_code == 302
    piece = Piece.objects.get()
    assert piece.document.size_px == (1417, 709) and piece.document.ground.fill.kind == "colour"


@pytest.mark.parametrize(
    "fields, reason",
    [
        ({"width": 9999}, "20000 px each way"),
        ({"ppi": 1}, "greater than or equal to 10"),
        ({"title": ""}, "required"),
    ],
)
def test_an_impossible_size_is_refused(signed_in, fields, reason):
    response = start(signed_in, **fields)
    assert (
        response.status_code == 200
        and reason in response.content.decode()
        and not Piece.objects.exists()
    )


def test_pieces_are_shown_as_pictures(signed_in, worked):
    page = flat(signed_in.get(reverse("pieces")))
    url = page.split('img src="')[1].split('"')[0]
    assert array(signed_in.get(url).content).shape == (300, 400, 3)


def upload(client, data, name="Rust.png", **fields):
    return client.post(
        reverse("shelf-upload"),
        {"file": SimpleUploadedFile(name, data), **fields},
        headers={"accept": "application/json"},
    )


def test_a_scan_is_kept_as_it_came(signed_in, user, rng):
    from kilnmark.storage import assets

    data = jpeg(rng.integers(0, 256, (90, 70, 3), dtype=np.uint8))
    assert upload(signed_in, data, "Rust.jpeg", credit="Hollin Quay").status_code == 200
    texture = Texture.objects.get(owner=user)
    assert (texture.name, texture.width, texture.height, texture.tiles, texture.credit) == (
        "Rust",
        70,
        90,
        False,
        "Hollin Quay",
    )
    assert assets().data(texture.hash) == data and sum(texture.histogram) == 6300


def test_the_same_scan_twice_is_one_texture(signed_in, user, rng):
    data = png(rng.integers(0, 256, (40, 40), dtype=np.uint8))
    upload(signed_in, data), upload(signed_in, data, "again.png")
    assert Texture.objects.filter(owner=user).count() == 1


@pytest.mark.parametrize(
    "data, reason",
    [
        (b"MZ" * 9, "neither an SVG, a PDF nor a PNG, JPEG, WebP"),
        (b"\x89PNG\r\n\x1a\n123", "damaged"),
        (png(np.zeros((4, 4), np.uint8)), "least each way"),
    ],
)
def test_a_file_that_cannot_be_used_leaves_nothing(signed_in, data, reason):
    response = upload(signed_in, data)
    assert (
        response.status_code == 422
        and reason in response.json()["message"]
        and not Texture.objects.exists()
    )


def test_a_refusal_is_a_page_for_people(signed_in):
    response = signed_in.post(reverse("shelf-upload"), {"file": SimpleUploadedFile("a.png", b"no")})
    assert response.status_code == 422 and b"<h1>That was not possible</h1>" in response.content


def test_a_maker_keeps_what_it_takes_to_make_it_again(signed_in, user):
    from kilncore.textures import makers
    from kilnmark.storage import assets

    data = {
        "name": "Hold wall",
        "width": 128,
        "height": 96,
        "seed": 5,
        "tone": 0.7,
        "pinholes": 0.5,
        "cracks": 0,
        "stains": 0.2,
    }
    assert signed_in.post(reverse("maker", args=["concrete"]), data).status_code == 302
    making = shelf.next_making()
    assert "Hold wall" in signed_in.get(reverse("shelf")).content.decode()
    shelf.run_making(making)
    assert signed_in.get(reverse("making-status", args=[making.pk])).json()["ended"]
    texture = Texture.objects.get(owner=user)
    params = makers.MAKERS[texture.maker].settings(**texture.settings)
    again = makers.make(texture.maker, texture.width, texture.height, texture.seed, params)
    np.testing.assert_array_equal(assets().texture(TextureRef(hash=texture.hash)).planes, again)
    assert texture.tiles and texture.settings["tone"] == 0.7


def test_a_maker_out_of_range_is_refused(signed_in):
    data = {
        "width": 128,
        "height": 9,
        "seed": 5,
        "tone": 7,
        "pinholes": 0.5,
        "cracks": 0,
        "stains": 0.2,
    }
    response = signed_in.post(reverse("maker", args=["concrete"]), data)
    assert response.status_code == 200 and not Texture.objects.exists()
    assert (
        signed_in.get(reverse("maker-trial", args=["concrete"]), {"seed": 1, "tone": 9}).status_code
        == 422
    )
    assert signed_in.get(reverse("maker-trial", args=["velvet"])).status_code == 422


def test_a_trial_of_a_maker(signed_in):
    knobs = {"seed": 1, "amount": 0.5, "patches": 0.5, "specks": 0.5, "scratches": 0.5}
    assert array(signed_in.get(reverse("maker-trial", args=["grunge"]), knobs).content).shape == (
        512,
        512,
    )


def fired(signed_in, worked, **asked):
    response = signed_in.post(
        reverse("fire", args=[worked.pk]), json.dumps(asked), content_type="application/json"
    )
    firing = firings.next_waiting()
    assert str(firing.pk) == response.json()["id"]
    firings.run(firing)
    return Firing.objects.get(pk=firing.pk)


def test_a_firing_is_made_and_saved(signed_in, worked):
    firing = fired(signed_in, worked, with_ground=False)
    assert firing.stage == "done" and firing.progress == 1 and firing.bytes > 1000
    response = signed_in.get(reverse("firing-file", args=[firing.pk]))
    image = array(b"".join(response.streaming_content))
    assert (
        image.shape == (300, 400, 4)
        and image[0, 0, 3] == 0
        and "no-ground.png" in response["content-disposition"]
    )


def test_a_firing_is_of_the_state_it_was_asked_from(signed_in, worked, post):
    firing = firings.ask(worked, True)
    post(
        reverse("change", args=[worked.pk]),
        {"version": 1, "edits": [{"op": "set", "path": ["title"], "value": "Later"}]},
    )
    firings.run(firings.next_waiting())
    assert json.loads(Firing.objects.get(pk=firing.pk).document)["title"] == "Untitled"


def test_a_killed_firing_is_taken_up_again(worked):
    firings.ask(worked, True)
    taken = firings.next_waiting()
    assert firings.next_waiting() is None  # somebody has it, and tells so
    Firing.objects.update(
        lease_until=timezone.now() - timedelta(seconds=1), worker="a server that was killed"
    )
    again = firings.next_waiting()
    assert again.pk == taken.pk
    firings.run(again), firings.run(again)
    assert Firing.objects.get(pk=taken.pk).stage == "done"


def test_two_servers_on_one_folder_do_not_take_each_others_firings(worked, monkeypatch):
    """The second finds nothing while the first goes on; when the first is late, its end does not
    spoil the second's.
    """
    from kilnmark import jobs

    firings.ask(worked, True)
    first = firings.next_waiting()
    monkeypatch.setattr(jobs, "WORKER", "another server")
    assert firings.next_waiting() is None
    Firing.objects.update(lease_until=timezone.now() - timedelta(seconds=1))
    second = firings.next_waiting()
    assert second.pk == first.pk and second.worker == "another server"
    firings.run(first)
    assert Firing.objects.get(pk=first.pk).stage == "running"
    firings.run(second)
    done = Firing.objects.get(pk=first.pk)
    assert done.stage == "done" and done.path.exists()


def test_a_stopped_firing_leaves_no_file(worked):
    firing = firings.ask(worked, True)
    taken = firings.next_waiting()
    firings.stop(firing)
    firings.run(taken)
    firing.refresh_from_db()
    assert firing.stage == "stopped" and not firing.path.exists()


def test_a_firing_that_fails_says_so(worked):
    from kilnmark.storage import assets

    firing = firings.ask(worked, True)
    name = next(iter(worked.document.files(TextureHash)))
    assets().path(name).rename(assets().path(name).with_suffix(".away"))
    assets().forget(name)
    firings.run(firings.next_waiting())
    firing.refresh_from_db()
    assets().path(name).with_suffix(".away").rename(assets().path(name))
    assert (
        firing.stage == "failed"
        and "is not there" in firing.message
        and "as it was" in firing.message
    )


def test_fired_from_the_command_line_by_id_and_by_document(worked, tmp_path, capsys):
    document = tmp_path / "piece.json"
    document.write_text(dump(worked.document))
    for number, name in enumerate((str(worked.pk), str(document))):
        assert main(["fire", name, "-o", str(tmp_path / f"{number}.png")]) == 0
    assert "400 x 300 px" in capsys.readouterr().out
    pictures = [np.asarray(Image.open(tmp_path / f"{n}.png")) for n in (0, 1)]
    np.testing.assert_array_equal(*pictures)
    assert main(["fire", str(document), "--no-ground", "-o", str(tmp_path / "2.png")]) == 0
    assert Image.open(tmp_path / "2.png").mode == "RGBA"


@pytest.mark.parametrize("name", ["nothing-here", "00000000-0000-0000-0000-000000000000"])
def test_the_command_line_says_what_is_wrong(name, tmp_path, capsys):
    assert main(["fire", name, "-o", str(tmp_path / "out.png")]) == 2
    assert "There is no piece" in capsys.readouterr().err and not (tmp_path / "out.png").exists()


def test_the_document_file_is_the_document(signed_in, worked):
    response = signed_in.get(reverse("document-file", args=[worked.pk]))
    assert response.content.decode() == dump(worked.document)


def signs_in(client, name, password):
    return (
        client.post(reverse("login"), {"username": name, "password": password}).status_code == 302
    )


def test_an_account_is_made_and_given_a_new_password(monkeypatch, client, capsys):
    monkeypatch.setattr("kilnmark.server.prepare", lambda: None)
    for word in ("hawser-and-fender", "another-long-hawser"):
        monkeypatch.setattr("getpass.getpass", lambda _, word=word: word)
        assert main(["account", "bosun"]) == 0
        assert signs_in(client, "bosun", word)
    assert "Changed the account" in capsys.readouterr().out
    monkeypatch.setattr("getpass.getpass", lambda _: "short")
    assert main(["account", "cook"]) == 2 and "too short" in capsys.readouterr().err
    assert not signs_in(client, "cook", "short")


def test_a_refused_making_keeps_its_settings(client, user):
    """A texture too large is refused in words; the sliders stand where they were put."""
    client.force_login(user)
    asked = {"name": "Wall", "width": 8192, "height": 8192, "seed": 3, "tone": 0.83, "cracks": 0.1}
    asked["ppi"] = 150
    page = client.post(reverse("maker", args=["concrete"]), asked).content.decode()
    assert (
        "16 million px at most below 300 ppi" in page
        and 'value="0.83"' in page
        and 'value="8192"' in page
    )


@pytest.mark.parametrize(
    "name, suffix, kind, begins",
    [
        ("jpeg", "jpg", "image/jpeg", b"\xff\xd8"),
        ("webp", "webp", "image/webp", b"RIFF"),
        ("tiff", "tif", "image/tiff", b"II*"),
    ],
)
def test_a_file_is_fired_as_asked(signed_in, worked, name, suffix, kind, begins):
    firing = fired(signed_in, worked, file_format=name)
    answer = signed_in.get(reverse("firing-file", args=[firing.pk]))
    assert answer["content-type"] == kind and f".{suffix}" in answer["content-disposition"]
    assert b"".join(answer.streaming_content).startswith(begins)
    url = reverse("fire", args=[worked.pk])
    for asked, words in (({"file_format": "gif"}, "of: png"), ({"content": "all"}, "of: piece")):
        refused = signed_in.post(url, asked, "application/json")
        assert refused.status_code == 422 and words in refused.json()["message"]


def test_each_mark_is_fired_alone_in_a_zip(signed_in, worked):
    firing = fired(signed_in, worked, content="marks")
    answer = signed_in.get(reverse("firing-file", args=[firing.pk]))
    assert answer["content-type"] == "application/zip"
    assert "-marks.zip" in answer["content-disposition"]
    with ZipFile(io.BytesIO(b"".join(answer.streaming_content))) as together:
        names = together.namelist()
    assert names and all(name.endswith(".png") for name in names)
    told = signed_in.get(reverse("fire", args=[worked.pk])).json()
    assert told["content"] == "marks" and told["format_title"] == "zip"
