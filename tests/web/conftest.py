import json

import numpy as np
import pytest
from django.urls import reverse

from kilncore.document import load
from kilnmark.pieces import actions
from kilnmark.shelf import actions as shelf
from kilnmark.storage import assets
from tests.documents import STROKES, every_step, mark, piece
from tests.pictures import png


@pytest.fixture(autouse=True)
def warm():
    """The kiln is warm, but where a test says otherwise."""
    from kilncore.warm_up import READY

    READY.set()


@pytest.fixture
def user(django_user_model):
    return django_user_model.objects.create_user("mate", password="hawser-and-fender")


@pytest.fixture
def stranger(django_user_model, client):
    from django.test import Client

    other = Client()
    other.force_login(
        django_user_model.objects.create_user("stranger", password="hawser-and-fender")
    )
    return other


@pytest.fixture
def signed_in(client, user):
    client.force_login(user)
    return client


@pytest.fixture
def scan(user, rng):
    return shelf.upload(
        user,
        "Quay scan.png",
        png(rng.integers(0, 256, (60, 80, 3), dtype=np.uint8)),
        credit="The purser",
    )


@pytest.fixture
def worked(user, scan):
    document = piece(
        mark(treatment=every_step(scan.ref)), ground={"kind": "texture", "texture": scan.ref}
    )
    user.stroke_files.create(hash=assets().keep(STROKES))
    return actions.start(user, load(document.model_dump(mode="json")))


@pytest.fixture
def post(signed_in):
    """post(url, data): JSON there, JSON back."""

    def send(url, data, client=signed_in):
        return client.post(
            url,
            json.dumps(data),
            content_type="application/json",
            headers={"accept": "application/json"},
        )

    return send


@pytest.fixture
def change(post, worked):
    def send(version, edits, label="Changed"):
        return post(
            reverse("change", args=[worked.pk]),
            {"version": version, "edits": edits, "label": label},
        )

    return send
