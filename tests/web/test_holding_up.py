"""What must not stop the others, and what must not end without a reason: damaged states, missing
files, read-only databases, clocks that were set back.
"""

import errno
import zlib
from datetime import timedelta

import pytest
from django.db import OperationalError, connection
from django.urls import reverse
from django.utils import timezone

from kilncore.system.files import HALF
from kilnmark import data_folder, database
from kilnmark.bench.walls.textures import offered
from kilnmark.firings import actions as firings
from kilnmark.firings.models import Firing
from kilnmark.pieces import actions
from kilnmark.pieces.models import Piece, State
from kilnmark.preps import actions as preps
from kilnmark.preps.models import Prep
from kilnmark.storage import assets

pytestmark = pytest.mark.django_db


def title(value):
    return [{"op": "set", "path": ["title"], "value": value}]


def test_changes_of_one_visit_are_one_state(change, worked, post):
    before = worked.states.count()
    for version, words in enumerate(("H", "HA", "HARBOUR"), 1):
        data = {"version": version, "edits": title(words), "visit": "visit-12345678"}
        told = post(reverse("change", args=[worked.pk]), data).json()
    assert told["document"]["title"] == "HARBOUR" and worked.states.count() == before + 1
    told = post(reverse("undo", args=[worked.pk]), {"version": 4}).json()
    assert told["document"]["title"] == "Untitled"
    told = post(reverse("redo", args=[worked.pk]), {"version": 5}).json()
    assert told["document"]["title"] == "HARBOUR"


def test_a_visit_leaves_a_pinned_state_and_what_another_tab_made(change, worked, post):
    data = {"version": 1, "edits": title("H"), "visit": "visit-12345678"}
    post(reverse("change", args=[worked.pk]), data)
    post(reverse("piece-pin", args=[worked.pk]), {"version": 2, "name": "Here"})
    post(reverse("change", args=[worked.pk]), {**data, "version": 2, "edits": title("HA")})
    assert worked.pins.get().state.document.title == "H"
    change(3, [{"op": "set", "path": ["ppi"], "value": 150}])
    told = post(
        reverse("change", args=[worked.pk]), {**data, "version": 4, "edits": title("HAR")}
    ).json()
    assert (told["document"]["title"], told["document"]["ppi"]) == ("HAR", 150)


def test_a_stale_change_is_told_the_newest_state(change, worked):
    change(1, title("Newer"))
    answer = change(1, title("Older"))
    assert answer.status_code == 409 and answer.json()["newest"]["document"]["title"] == "Newer"
    assert answer["X-Kilnmark"]


@pytest.mark.django_db(transaction=True)
def test_no_edit_is_worked_out_while_the_database_is_held(worked, monkeypatch):
    held, apply = [], actions.edits.apply

    def watched(*given):
        held.append(connection.in_atomic_block)
        return apply(*given)

    monkeypatch.setattr(actions.edits, "apply", watched)
    actions.change(worked, 1, title("Later"), "Title")
    assert held == [False]


def test_what_cannot_be_laid_out_is_not_stored(change, worked):
    mark = worked.document.stack[0]
    ring = [[-1e-310, -1e-310], [1e-310, -1e-310], [1e-310, 1e-310], [-1e-310, 1e-310]]
    thin = {"kind": "corners", "width": 1e-300, "height": 1e-300, "corners": ring}
    path = ["stack", mark.id, "placement", "perspective"]
    answer = change(1, [{"op": "set", "path": path, "value": thin}])
    assert answer.status_code == 422 and worked.states.count() == 1


def test_a_piece_whose_newest_state_is_damaged_opens_at_the_last_whole_one(
    change, worked, signed_in
):
    change(1, title("Whole"), "Title")
    change(2, title("Damaged"), "Title")
    State.objects.filter(pk=Piece.objects.get(pk=worked.pk).head_id).update(
        compressed=zlib.compress(b'{"format": 8')
    )
    page = signed_in.get(reverse("bench", args=[worked.pk]))
    assert page.status_code == 200 and b"newest state of this piece is damaged" in page.content
    assert Piece.objects.get(pk=worked.pk).document.title == "Whole"
    assert State.objects.filter(piece=worked).count() == 3


def test_a_missing_file_is_named_with_the_remedy(worked, scan, signed_in, post):
    assets().path(scan.hash).unlink()
    assets().forget(scan.hash)
    data = {"version": 1, "view": {"x": 0, "y": 0, "width": 90, "height": 80, "scale": 0.31}}
    answer = post(reverse("stage", args=[worked.pk]), data)
    assert answer.status_code == 422
    told = answer.json()["message"]
    assert f"“{scan.name}”" in told and "bring the same file in again" in told


def test_thrown_away_preps_are_not_offered_and_binned_pieces_are_not_fired(
    worked, scan, user, post
):
    prep = preps.start(scan, "Rust")
    assert any("Rust" in name for name, _ in offered(user, "mask", None))
    Prep.objects.filter(pk=prep.pk).throw_away()
    assert not any("Rust" in name for name, _ in offered(user, "mask", None))
    Piece.objects.filter(pk=worked.pk).throw_away()
    assert post(reverse("fire", args=[worked.pk]), {}).status_code == 404


def test_another_version_than_that_on_screen_is_not_fired(change, worked, post):
    change(1, title("Newer"))
    assert post(reverse("fire", args=[worked.pk]), {"version": 1}).status_code == 409
    assert post(reverse("fire", args=[worked.pk]), {"version": 2}).status_code == 201
    assert post(reverse("fire", args=[worked.pk]), {}).json()["stage"] == "waiting"


def test_a_firing_whose_lease_lies_in_the_future_is_taken_up(worked):
    firings.ask(worked, True)
    taken = firings.next_waiting()
    Firing.objects.update(lease_until=timezone.now() + timedelta(hours=1), worker="another")
    assert firings.next_waiting().pk == taken.pk


@pytest.mark.parametrize(
    ("error", "words", "status"),
    [
        (OSError(errno.EMFILE, "many"), "as many files open", 503),
        (OperationalError("attempt to write a readonly database"), "can only be read", 507),
        (OSError(errno.EROFS, "read-only"), "can only be read", 507),
        (OSError(errno.ENOSPC, "full"), "disk is full", 507),
    ],
)
def test_what_stops_a_write_is_told_as_what_it_is(error, words, status):
    told, code = database.trouble(error)
    assert words in told and code == status


def test_what_killed_processes_left_is_swept(tmp_path):
    for place in ("ready", "saving"):
        (tmp_path / place).mkdir()
    (tmp_path / "ready" / f"{HALF}one").write_bytes(b"half")
    left = tmp_path / "saving" / f"{HALF}folder"
    left.mkdir()
    import os

    os.utime(left, (0, 0))
    data_folder.tidy(tmp_path)
    assert not list((tmp_path / "ready").iterdir()) and not left.exists()
