"""What holds the architecture: imports go one way, rooms too, lists are complete and documented."""

import ast
import os
import subprocess
import sys
from functools import cache
from pathlib import Path

import pytest

from kilncore.artwork import ARTS
from kilncore.compiled.operation import OPERATIONS
from kilncore.fills import FILLS
from kilncore.landing import LIMITS
from kilncore.output.contents import CONTENTS
from kilncore.output.formats import FORMATS
from kilncore.prep import OPERATIONS as PREPARES
from kilncore.steps import STEPS
from kilncore.textures.makers import MAKERS

ROOT = Path(__file__).parents[2]
CORE, WEB = ROOT / "src" / "kilncore", ROOT / "src" / "kilnmark"
MODULES = sorted(CORE.rglob("*.py"))
WEB_ONLY = {"django", "kilnmark", "whitenoise", "csp", "waitress"}
# Rooms from the bottom up: each imports only those before it, and itself.
ORDER = (
    (
        "errors",
        "system",
        "geometry",
        "compiled",
        "perspective",
        "solve",
        "typesetting",
        "svg",
        "pdf",
    )
    + ("pixels", "blending", "noise", "model", "graph")
    + ("blend", "blur", "masks", "sampling", "morphology", "transfer", "strokes", "shapes")
    + ("measure", "prep", "textures", "assets", "planes", "fills", "landing", "artwork", "wear")
    + ("steps", "upgrades", "document", "layout", "recipe", "edits", "engine", "output", "warm_up")
)
# What docs/engine.md promises to callers stands at the top level; all else is in rooms.
PUBLIC = {
    *("assets", "blend", "blur", "errors", "masks", "morphology"),
    *("recipe", "sampling", "transfer", "warm_up"),
}
RAW = {"floats", "doubles", "integers", "shorts", "bytes8", "bytes16", "pointer", "intrinsic", "ir"}


def of_core(function):
    return pytest.mark.parametrize("path", MODULES, ids=lambda p: str(p.relative_to(CORE)))(
        function
    )


@cache
def parsed(path) -> ast.Module:
    """A source file, read once for all checks."""
    return ast.parse(path.read_text())


def imports(path):
    """(module, names) of every import."""
    for node in ast.walk(parsed(path)):
        if isinstance(node, ast.Import):
            yield from ((name.name, set()) for name in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.module, {name.name for name in node.names}


def rooms(path):
    """The rooms of the core that a module imports."""
    for module, names in imports(path):
        if module == "kilncore":
            yield from names
        elif module.startswith("kilncore."):
            yield module.split(".")[1]


@of_core
def test_the_core_never_imports_the_web_side(path):
    assert not WEB_ONLY & {module.split(".")[0] for module, _ in imports(path)}


@of_core
def test_rooms_import_one_way(path):
    own = path.relative_to(CORE).parts[0].removesuffix(".py")
    if own != "__init__":
        assert not set(rooms(path)) & set(ORDER[ORDER.index(own) + 1 :])


def test_the_top_level_is_what_callers_are_promised():
    assert {path.stem for path in CORE.glob("*.py")} == PUBLIC | {"__init__"}
    folders = {path.name for path in CORE.iterdir() if (path / "__init__.py").exists()}
    assert folders == set(ORDER) - PUBLIC


def test_the_web_side_imports_one_way():
    """The bench shows pieces; pieces know nothing of the bench."""
    for path in (WEB / "pieces").rglob("*.py"):
        assert not [module for module, _ in imports(path) if module.startswith("kilnmark.bench")]


def test_the_core_draws_without_django():
    code = (
        "import sys, kilncore.engine, kilncore.output.fire; "
        "assert not any(m.split('.')[0] in ('django', 'kilnmark') for m in sys.modules)"
    )
    subprocess.run([sys.executable, "-c", code], check=True)


def test_a_child_that_takes_svgs_in_reads_nothing_else():
    """It must start at once, and be small: no compiled functions, no arrays."""
    code = (
        "import sys, kilncore.svg.intake_child; "
        "assert not {'numba', 'numpy', 'cv2', 'pydantic'} & set(sys.modules)"
    )
    subprocess.run([sys.executable, "-c", code], check=True)


def test_whoever_examines_a_file_compiles_nothing():
    """A child examines every file that comes in: compiled code takes it three seconds to load."""
    code = "import sys, kilncore.textures.examining; assert 'numba' not in sys.modules"
    subprocess.run([sys.executable, "-c", code], check=True)


def test_numba_and_raw_addresses_stay_in_one_room():
    for path in MODULES:
        found = {module.split(".")[0] for module, _ in imports(path)}
        if {"numba", "llvmlite"} & found:
            assert path.name in ("kernel_cache.py", "kernels.py") and path.parent.name == "compiled"
        if path == CORE / "pdf" / "library.py":  # PDFium's own, in children alone
            continue
        if "compiled" not in path.parts:
            assert not RAW & {name for _, names in imports(path) for name in names}, path
            assert "__array_interface__" not in path.read_text() and "ctypes" not in found


@pytest.mark.parametrize(
    "folder, registered, others",
    [
        ("steps", STEPS, {"base"}),
        ("textures/makers", MAKERS, {"base"}),
        ("fills", FILLS, {"base", "line"}),
        ("landing/limits", LIMITS, {"base"}),
        ("output/formats", FORMATS, {"base"}),
        ("output/contents", CONTENTS, {"base"}),
    ],
)
def test_one_module_for_each_kind_and_each_in_the_list(folder, registered, others):
    modules = {p.stem for p in (CORE / folder).glob("*.py")} - {"__init__"} - others
    modules = {name for name in modules if not name.endswith("_settings")}
    assert modules == set(registered)


def test_all_that_there_is_is_documented():
    text = (ROOT / "docs" / "engine.md").read_text()
    for kind in [*STEPS, *MAKERS, *FILLS, *LIMITS, *ARTS, *FORMATS, *CONTENTS, *PREPARES]:
        assert f"`{kind}`" in text, kind
    programs = (ROOT / "docs" / "programs.md").read_text()
    for name in OPERATIONS:
        assert name.startswith("blend_") or f"`{name}`" in programs, name


def test_every_room_is_on_the_map():
    text = (ROOT / "docs" / "architecture.md").read_text()
    for side in (CORE, WEB):
        for folder in (p for p in side.iterdir() if (p / "__init__.py").exists()):
            assert f"{folder.name}/" in text, folder.name


def public(tree):
    """The public definitions of a module, those of its public classes too."""
    for node in tree.body:
        if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
            yield node
            if isinstance(node, ast.ClassDef):
                yield from public(node)


@of_core
def test_every_public_definition_of_the_core_says_what_it_is(path):
    tree = parsed(path)
    assert ast.get_docstring(tree)
    assert [node.name for node in public(tree) if not ast.get_docstring(node)] == []


@of_core
def test_every_parameter_of_the_core_has_a_type(path):
    for node in ast.walk(parsed(path)):
        if isinstance(node, ast.FunctionDef):
            asked = node.args
            every = [*asked.posonlyargs, *asked.args, *asked.kwonlyargs, asked.vararg, asked.kwarg]
            bare = [one.arg for one in every if one is not None and one.annotation is None]
            assert set(bare) <= {"self", "cls"}, (node.name, bare)


BIN = Path(sys.executable).parent


@pytest.mark.parametrize(
    "command",
    [
        [sys.executable, "-m", "ruff", "check", "."],  # names of one's own, imports in order
        [sys.executable, "-m", "ruff", "format", "--check", "."],
        [BIN / "oxlint", "src"],
        [BIN / "oxfmt", "--check", "src/**/*.js", "src/**/*.css"],  # a declaration on each line
        [sys.executable, "-m", "tools.wrap_templates", "--check"],  # an attribute on each line
        [sys.executable, "-m", "mypy", "--cache-dir", os.devnull],  # the core's types
    ],
    ids=lambda command: " ".join(Path(word).name for word in command),
)
def test_what_the_formatters_and_linters_hold(command):
    """All within 100 columns where that is possible; nothing unused, nothing shadowed, no type that
    is not what it says."""
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
    assert done.returncode == 0, done.stdout + done.stderr


def test_a_new_step_is_one_module():
    """Proof by doing it: a step registered here is accepted, drawn, landed, and has its form."""
    from kilncore import engine
    from kilncore.model.base import Model
    from kilncore.steps.base import Remake, setting, step
    from kilnmark.controls.fields import fields_of
    from tests.documents import mark, piece
    from tests.documents import step as asked

    class Settings(Model):
        amount: float = setting(1.0, "Amount", "How much.", "slider", soft=(0, 1))

    def register():
        @step(
            "hush",
            title="Hush",
            sentence="Takes all.",
            gives="remake",
            settings=Settings,
            summary=str,
        )
        def hush(settings, view):
            return Remake(view.input() * (1 - settings.amount))

    with STEPS.with_more(register):
        picture = engine.render(piece(mark(treatment=[asked("hush")]), ground={"kind": "none"}))
        assert not picture.any()
        assert [f.template for f in fields_of(Settings(), [])] == ["controls/slider.html"]
