"""Disks that are full, databases that are held, starts that are cut off: all in words, nothing
half-written.
"""

import errno
import logging
import os
import stat
import subprocess
import sys

import pytest
from django.db import connection
from django.test import Client
from django.urls import reverse

from kilncore.errors import KilnError, UnusableFile
from kilnmark import data_folder, server
from kilnmark.firings import actions as firings
from kilnmark.firings.models import Firing
from kilnmark.logs import OneLine
from kilnmark.shelf.models import Texture
from tests.pictures import png

pytestmark = pytest.mark.django_db
EDIT = [{"op": "set", "path": ["ppi"], "value": 123}]


@pytest.fixture
def full_disk(monkeypatch):
    """No file can be brought to the disk."""

    def no_room(handle):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(os, "fsync", no_room)
    return monkeypatch


def upload(client, data):
    from django.core.files.uploadedfile import SimpleUploadedFile

    return client.post(
        reverse("shelf-upload"),
        {"file": SimpleUploadedFile("a.png", data)},
        headers={"accept": "application/json"},
    )


def test_an_upload_to_a_full_disk_says_so_and_leaves_nothing(signed_in, full_disk, rng, settings):
    data = png(rng.integers(0, 255, (40, 40, 3), dtype="uint8"))
    response = upload(signed_in, data)
    assert (
        response.status_code == 507
        and "disk is full" in response.json()["message"]
        and not Texture.objects.exists()
    )
    assert not list(settings.DATA.rglob(".half-*"))
    full_disk.undo()
    assert upload(signed_in, data).status_code == 200 and Texture.objects.count() == 1


def test_a_firing_on_a_full_disk_says_so(worked, full_disk, settings):
    firing = firings.ask(worked, True)
    firings.run(firings.next_waiting())
    firing.refresh_from_db()
    assert (
        firing.stage == "failed"
        and "disk is full" in firing.message
        and not list(settings.DATA.rglob(".half-*"))
    )
    full_disk.undo()
    firings.ask(worked, True)
    firings.run(firings.next_waiting())
    assert Firing.objects.filter(stage="done").count() == 1


def test_an_edit_into_a_full_database_says_so_and_goes_on_later(post, worked):
    """SQLite's own word for it, by its own limit."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA page_count")
        (pages,) = cursor.fetchone()
        cursor.execute("PRAGMA freelist_count")
        (free,) = cursor.fetchone()
        cursor.execute(f"PRAGMA max_page_count = {pages}")
    words = [{"op": "set", "path": ["title"], "value": "x" * 100}]
    try:
        long = [
            {
                "op": "add_mark",
                "mark": {
                    "art": {
                        "kind": "lettering",
                        "text": os.urandom(240).hex(),
                        "size": {"value": 9},
                    },
                    "placement": {"x": {"value": 1}, "y": {"value": 1}},
                },
            }
        ] * 50
        found, version = None, 1
        for _ in range(5 + free):
            found = post(
                reverse("change", args=[worked.pk]), {"version": version, "edits": long[:3] + words}
            )
            if found.status_code != 200:
                break
            version = found.json()["version"]
    finally:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA max_page_count = 1073741823")
    assert found.status_code == 507 and "disk is full" in found.json()["message"]
    assert (
        post(reverse("change", args=[worked.pk]), {"version": version, "edits": EDIT}).status_code
        == 200
    )


def test_a_database_that_is_held_is_said_and_nothing_is_lost(post, worked, monkeypatch):
    from django.db import OperationalError

    from kilnmark.pieces import actions

    def held(*args, **more):
        raise OperationalError("database is locked")

    with monkeypatch.context() as patch:
        patch.setattr(actions, "change", held)
        response = post(reverse("change", args=[worked.pk]), {"version": 1, "edits": EDIT})
    assert response.status_code == 503 and "held by another" in response.json()["message"]
    assert (
        post(reverse("change", args=[worked.pk]), {"version": 1, "edits": EDIT}).status_code == 200
    )


def test_a_firing_ends_in_the_end_though_the_database_was_held(worked, monkeypatch):
    from django.db import OperationalError

    from kilnmark import jobs

    firings.ask(worked, True)
    taken, held, tries = firings.next_waiting(), jobs.Job.held, []

    def sometimes(self):
        tries.append(1)
        if len(tries) in (1, 3, 4):
            raise OperationalError("database is locked")
        return held(self)

    monkeypatch.setattr(jobs.Job, "held", sometimes)
    monkeypatch.setattr(jobs.time, "sleep", lambda seconds: None)
    firings.run(taken)
    assert Firing.objects.get(pk=taken.pk).stage == "done"


@pytest.mark.parametrize("left", [None, "", "  \n"])
def test_a_key_that_was_cut_off_is_made_anew(tmp_path, left):
    if left is not None:
        (tmp_path / "secret-key").write_text(left)
    key = data_folder.secret_key(tmp_path)
    assert len(key) > 40 and data_folder.secret_key(tmp_path) == key
    assert stat.S_IMODE((tmp_path / "secret-key").stat().st_mode) == 0o600


def test_the_data_is_its_owners_alone(tmp_path):
    folder = tmp_path / "data"
    folder.mkdir(mode=0o755)
    was = os.umask(0o022)
    try:
        data_folder.made_private(folder)
        (folder / "file").write_text("x")
        (folder / "inner").mkdir()
        assert [
            stat.S_IMODE(p.stat().st_mode) for p in (folder, folder / "file", folder / "inner")
        ] == [0o700, 0o600, 0o700]
    finally:
        os.umask(was)


def test_static_files_are_all_there_or_not_at_all(tmp_path):
    """A folder of half of them, left by a process that was killed, is never taken for the whole,
    and goes.
    """
    target = tmp_path / "static" / "abc"
    half = tmp_path / "static" / ".half-999999999"
    half.mkdir(parents=True)
    (half / "empty.js").write_text("")
    server.collect_static(target)
    assert (target / "staticfiles.json").exists() or (
        target / "bench" / "bench.js"
    ).stat().st_size > 1000
    assert not half.exists() and all(path.stat().st_size for path in target.rglob("*.js"))
    kept = (target / "bench").stat().st_mtime_ns
    server.collect_static(target)
    assert (target / "bench").stat().st_mtime_ns == kept


def test_half_written_files_of_killed_processes_are_swept_and_those_of_living_ones_are_not(
    tmp_path,
):
    from kilncore.system.files import sweep, written_whole

    (tmp_path / "fired").mkdir()
    (tmp_path / "fired" / ".half-dead").write_bytes(b"half")
    with written_whole(tmp_path / "fired" / "new.png") as file:
        file.write(b"whole")
        assert sweep(tmp_path) == 1
    assert [path.name for path in (tmp_path / "fired").iterdir()] == ["new.png"]


def test_to_be_open_to_others_all_must_be_set(monkeypatch, settings, django_user_model):
    monkeypatch.delenv("KILNMARK_HOSTS", raising=False)
    for host in ("127.0.0.1", "localhost", "::1"):
        server.check_open_to_others(host)
    with pytest.raises(KilnError, match="KILNMARK_HOSTS.*HTTPS"):
        server.check_open_to_others("0.0.0.0")
    monkeypatch.setenv("KILNMARK_HOSTS", "kiln.example")
    settings.HTTPS = True
    server.check_open_to_others("0.0.0.0")
    django_user_model.objects.create_user("purser", password="night-ferry")
    with pytest.raises(KilnError, match="published password"):
        server.check_open_to_others("0.0.0.0")


def test_one_setting_for_https_and_no_host_but_ones_own():
    code = (
        "from kilnmark import settings as s; print(s.SESSION_COOKIE_SECURE, "
        "s.CSRF_COOKIE_SECURE, s.ALLOWED_HOSTS)"
    )
    env = {**os.environ, "KILNMARK_HTTPS": "1", "KILNMARK_HOSTS": "kiln.example"}
    told = subprocess.run(
        [sys.executable, "-c", code], env=env, capture_output=True, text=True, check=True
    ).stdout
    assert told == "True True ['kiln.example']\n"
    plain = subprocess.run(
        [sys.executable, "-c", code],
        env={k: v for k, v in os.environ.items() if k != "KILNMARK_HOSTS"},
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    assert "testserver" not in plain and "127.0.0.1" in plain


def test_pages_are_never_kept_by_what_lies_between(signed_in, worked):
    for url in (
        reverse("pieces"),
        reverse("bench", args=[worked.pk]),
        reverse("shelf"),
        reverse("login"),
    ):
        assert (
            "no-store" in signed_in.get(url)["cache-control"]
            and "private" in signed_in.get(url)["cache-control"]
        )


def test_log_lines_cannot_be_forged():
    record = logging.LogRecord(
        "kilnmark",
        logging.INFO,
        "",
        0,
        "refused: %s",
        ("a\n2026-11-26 INFO all is well\r\x1b[2K",),
        None,
    )
    line = OneLine("%(levelname)s %(message)s").format(record)
    assert "\n" not in line and "\r" not in line and "\x1b" not in line and "\\n" in line


def test_sign_ins_are_limited_by_name_and_address(user):
    client = Client()
    for _ in range(8):
        answer = client.post(reverse("login"), {"username": "mate", "password": "wrong"})
    assert answer.status_code == 429 and "too often" in answer.content.decode()
    right = {"username": "mate", "password": "hawser-and-fender"}
    assert client.post(reverse("login"), right).status_code == 429
    assert Client(REMOTE_ADDR="10.0.0.9").post(reverse("login"), right).status_code == 302


def test_many_sign_ins_at_once_leave_threads_for_others(user, monkeypatch):
    from kilnmark.accounts import views

    monkeypatch.setattr(views, "PATIENCE_SECONDS", 0.05)
    assert views.AT_ONCE.acquire() and views.AT_ONCE.acquire()
    try:
        answer = Client().post(
            reverse("login"), {"username": "mate", "password": "hawser-and-fender"}
        )
        assert answer.status_code == 429 and "few seconds" in answer.content.decode()
    finally:
        views.AT_ONCE.release(), views.AT_ONCE.release()


def test_a_session_that_is_used_does_not_end(signed_in):
    session = signed_in.session
    session["moved-on"] = 0
    session.set_expiry(1000)
    session.save()
    from django.contrib.sessions.models import Session

    Session.objects.update(expire_date="2030-01-01T00:00:00Z")
    signed_in.get(reverse("pieces"))
    assert Session.objects.get().expire_date.year < 2030  # its end was counted anew from now


@pytest.mark.long
def test_a_small_file_of_many_pixels_is_read_in_bounded_memory(tmp_path):
    """100 kB of grey, 10,000 x 10,000 px, took 1.06 GB; of 16 bits 1.8 GB."""
    code = """
import resource, sys, numpy as np, pyvips
from kilncore.textures import reading
from kilncore.measure.histogram import histogram
kind = sys.argv[1]
meaning = 'grey16' if kind == 'ushort' else 'b-w'
image = pyvips.Image.black(10000, 10000).cast(kind).copy(interpretation=meaning)
data = image.pngsave_buffer(compression=1)
texture = reading.read(data)
assert sum(histogram(texture.planes)) == 10**8
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024)
"""
    for kind, most in (("uchar", 550), ("ushort", 750)):
        done = subprocess.run(
            [sys.executable, "-c", code, kind], capture_output=True, text=True, check=True
        )
        assert int(done.stdout) < most


def test_reading_without_enough_memory_is_refused_in_true_words(monkeypatch):
    from kilncore.pixels import reading
    from kilncore.textures import examining

    data = png(__import__("numpy").zeros((4000, 4000), "uint8"))
    monkeypatch.setattr(examining, "LIMITS", examining.Limits(memory=150 * 2**20, cpu=20, wall=20))
    with pytest.raises(UnusableFile, match="not enough memory"):
        examining.examined(data)
    monkeypatch.setattr(reading.np, "empty", lambda *a, **k: (_ for _ in ()).throw(MemoryError()))
    with pytest.raises(UnusableFile, match="not enough memory"):
        reading.planes_of(data)


def test_an_upright_png():
    """PNG's eXIf chunk, Orientation 6: turned a quarter to the right when shown."""
    import io

    import numpy as np
    from PIL import Image

    from kilncore.textures import reading

    pixels = np.arange(20 * 30, dtype=np.uint8).reshape(20, 30)
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG", exif=exif)
    np.testing.assert_array_equal(reading.read(out.getvalue()).planes[0], np.rot90(pixels, -1))


def test_a_makers_wrong_setting_is_told_on_its_page(signed_in):
    data = {
        "width": 128,
        "height": 128,
        "seed": 5,
        "board_px": 60,
        "tone": 0.5,
        "weather": 0.5,
        "knots": "nan",
    }
    response = signed_in.post(reverse("maker", args=["planks"]), data)
    assert response.status_code == 200 and "warning" in response.content.decode()
