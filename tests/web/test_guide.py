"""The guide: a page a job, its pictures, and what each begins with."""

import pytest
from django.contrib.staticfiles import finders
from django.urls import reverse

from kilnmark.guide.jobs import JOBS
from kilnmark.recipes import shipped
from tests.web.flat import flat

pytestmark = pytest.mark.django_db(transaction=True)


def test_every_job_has_a_page_with_pictures_that_are_there(signed_in):
    contents = signed_in.get(reverse("guide")).content.decode()
    for job in JOBS:
        assert job.title in contents
        page = signed_in.get(reverse("guide-job", args=[job.slug])).content.decode()
        for stage in job.stages:
            assert stage.title in page
            assert not stage.picture or stage.alt
            assert not stage.picture or finders.find(f"guide/{stage.picture}.jpg"), stage.picture
    assert signed_in.get(reverse("guide-job", args=["velvet"])).status_code == 404


@pytest.mark.parametrize(
    "job",
    ["lettering-in-a-photo", "go-over-it-by-hand", "eight-icons", "texture-from-a-photo"],
)
def test_a_job_begins_something_of_ones_own(signed_in, user, job):
    answer = signed_in.post(reverse("guide-begin", args=[job]))
    assert answer.status_code == 302 and signed_in.get(answer["Location"]).status_code == 200
    assert user.pieces.count() == (0 if job == "texture-from-a-photo" else 1)
    signed_in.post(reverse("guide-begin", args=[job]))
    assert user.textures.count() <= 2, "what is on the shelf is taken"


def test_a_logo_begins_with_a_few_looks(signed_in, user, monkeypatch):
    monkeypatch.setattr(shipped, "SIDE", 64)
    answer = signed_in.post(reverse("guide-begin", args=["wear-a-logo"]))
    page = flat(signed_in.get(answer["Location"]))
    assert page.count("data-look ") == 4 == user.recipes.count()


def test_empty_states_point_to_it(signed_in):
    for name in ("pieces", "shelf", "artworks"):
        assert "/guide/" in signed_in.get(reverse(name)).content.decode().split("<main")[1]
