"""The scripts of each page in one file, where esbuild is there; else each by itself."""

import re
import shutil

import pytest
from django.contrib.staticfiles import finders

from kilnmark import bundles, tags

SCRIPT = re.compile(r'src="[^"]*?static/([^"]+)"')


@pytest.fixture
def collected(tmp_path):
    """Two modules of one page, and what they import."""
    made = {
        "controls/one.js": 'import { told } from "./lib/shared.js";\nwindow.one = told;\n',
        "controls/lib/shared.js": 'export const told = "shared words";\n',
    }
    for name, text in made.items():
        (tmp_path / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / name).write_text(text)
    return tmp_path


@pytest.fixture
def one_page(monkeypatch):
    monkeypatch.setattr(bundles, "BUNDLES", {"page": ("controls",)})
    monkeypatch.setattr(bundles, "modules_of", lambda page: ["controls/one.js"])


@pytest.mark.skipif(shutil.which(bundles.BUILDER) is None, reason="esbuild is not installed")
def test_what_modules_import_stands_in_their_page(collected, one_page):
    assert bundles.bundle(collected) == ["bundles/page.js"]
    made = (collected / "bundles/page.js").read_text()
    assert "shared words" in made and "import" not in made and str(collected) not in made
    assert [one.name for one in (collected / "bundles").iterdir()] == ["page.js"]


@pytest.mark.parametrize("builder", [None, "false", "no-such-builder"])
def test_without_a_builder_there_are_none(collected, one_page, monkeypatch, builder):
    monkeypatch.setattr(bundles.shutil, "which", lambda name: builder)
    assert bundles.bundle(collected) == []
    assert not list(collected.glob("bundles/*"))


def test_a_module_that_does_not_parse_breaks_no_page(collected, one_page):
    (collected / "controls/one.js").write_text("import from nowhere")
    assert bundles.bundle(collected) == [] and not list(collected.glob("bundles/*"))


@pytest.mark.parametrize("page", list(bundles.BUNDLES))
def test_a_page_asks_for_its_bundle_or_for_all_its_modules(page, monkeypatch):
    each = SCRIPT.findall(tags.scripts(page))
    assert each == bundles.modules_of(page) and all(finders.find(name) for name in each)
    there = type("Storage", (), {"has": lambda self, name: True})
    monkeypatch.setattr(tags, "staticfiles_storage", there())
    assert SCRIPT.findall(tags.scripts(page)) == [f"bundles/{page}.js"]
