"""What holds the architecture: imports go one way, the core needs no Django, lists are complete."""

import ast
import subprocess
import sys
from pathlib import Path

import pytest

from kilncore.steps import STEP_KINDS
from kilncore.textures.makers import MAKERS

ROOT = Path(__file__).parents[2]
CORE = ROOT / "src" / "kilncore"
WEB_ONLY = {"django", "kilnmark", "whitenoise", "csp", "waitress"}


def imported(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            yield from (name.name.split(".")[0] for name in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.module.split(".")[0]


@pytest.mark.parametrize("path", sorted(CORE.rglob("*.py")), ids=lambda p: str(p.relative_to(CORE)))
def test_the_core_never_imports_the_web_side(path):
    assert not WEB_ONLY & set(imported(path))


def test_the_core_draws_without_django():
    code = ("import sys, kilncore.engine, kilncore.output.fire; "
            "assert not any(m.split('.')[0] in ('django', 'kilnmark') for m in sys.modules)")
    subprocess.run([sys.executable, "-c", code], check=True)


def test_numba_is_imported_in_one_place():
    users = [p.name for p in CORE.rglob("*.py") if "numba" in imported(p) or "llvmlite" in imported(p)]
    assert sorted(users) == ["kernel_cache.py", "kernels.py"]


@pytest.mark.parametrize("folder, registered, others", [("steps", STEP_KINDS, {"base"}), ("textures/makers", MAKERS, {"base", "spectra", "marks"})])
def test_one_module_for_each_kind_and_each_in_the_list(folder, registered, others):
    modules = {p.stem for p in (CORE / folder).glob("*.py")} - {"__init__"} - others
    assert modules == set(registered)


def test_every_step_and_maker_is_documented():
    text = (ROOT / "docs" / "engine.md").read_text()
    for kind in [*STEP_KINDS, *MAKERS]:
        assert f"`{kind}`" in text, kind


def test_every_room_is_on_the_map():
    text = (ROOT / "docs" / "architecture.md").read_text()
    for folder in (p for side in ("kilncore", "kilnmark") for p in (ROOT / "src" / side).iterdir() if (p / "__init__.py").exists()):
        assert f"{folder.name}/" in text, folder.name


def test_a_new_step_is_one_module():
    """Proof by doing it: a step registered here is accepted, drawn and landed, and its sheet draws itself."""
    from kilncore import engine
    from kilncore.model import Model
    from kilncore.steps.base import Remake, setting, step
    from kilnmark.bench.fields import fields_of
    from tests.documents import mark, piece
    from tests.documents import step as asked

    class Params(Model):
        amount: float = setting(1.0, "Amount", "How much.", "slider", soft=(0, 1))

    try:
        @step("hush", title="Hush", sentence="Takes all.", gives="remake", params=Params, summary=lambda p: "all")
        def hush(params, view):
            return Remake(view.input() * (1 - params.amount))

        picture = engine.render(piece(mark(treatment=[asked("hush")]), ground={"kind": "none"}))
        assert not picture.any()
        assert [f.template for f in fields_of(Params(), [])] == ["bench/fields/slider.html"]
    finally:
        STEP_KINDS.pop("hush")
