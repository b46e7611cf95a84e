"""Where compiled functions are kept: a folder named after all that they are made of, and nothing
else.

Numba notices an edited file but not an edited callee, and takes a new docstring for new code. Here
the folder's name is a hash of the code itself (syntax without comments, docstrings and line
numbers) of every module that has compiled functions, of the constants that these modules import, of
Numba's version and of the processor; within it a function is known by its module and its name. So
nothing is compiled anew without need, and nothing old is ever run.
"""

import ast
import hashlib
import os
import re
import shutil
import time
from collections.abc import Callable
from contextlib import suppress
from functools import cache
from importlib.metadata import version
from pathlib import Path
from typing import Any

import llvmlite.binding as llvm
from numba.core.caching import _CacheLocator

import kilncore.compiled.kernels  # noqa: F401  it settles how Numba compiles, before Numba is read
from kilncore.system.code_version import VERSION
from kilncore.system.files import write_whole

ROOT = Path(__file__).parent.parent
KERNELS = "kilncore.compiled.kernels"
DIGEST = re.compile("[0-9a-f]{16}")
UNUSED_SECONDS = 14 * 24 * 3600


def folder() -> Path:
    """Where compiled functions of this very code are kept."""
    return _base() / f"kernels-{known_digest()}"


def _base() -> Path:
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "kilnmark"


@cache
def known_digest() -> str:
    """The digest of the core, which takes more than a second to work out: kept on disk by the
    version of the whole code.
    """
    processor = hashlib.sha256(llvm.get_host_cpu_name().encode()).hexdigest()[:8]
    kept = _base() / f"digest-{VERSION}-{processor}"
    with suppress(OSError, ValueError):
        known = kept.read_text("ascii")
        if DIGEST.fullmatch(known):
            return known
    found = digest()
    with suppress(OSError):  # a home that cannot be written: it is worked out each time
        write_whole(kept, found.encode())
    return found


@cache
def digest(root: Path = ROOT) -> str:
    """Of the code in a folder that is laid out as kilncore is."""
    trees = {_module(root, path): ast.parse(path.read_bytes()) for path in root.rglob("*.py")}
    compiled = {name for name, tree in trees.items() if KERNELS in _imports(tree)}
    lent = {used for name in compiled for used in _imports(trees[name]) if used in trees}
    made_of = hashlib.sha256(f"{version('numba')} {llvm.get_host_cpu_name()}".encode())
    for name in sorted(compiled | lent):
        nodes = (
            trees[name].body
            if name in compiled
            else [node for node in trees[name].body if isinstance(node, ast.Assign | ast.AnnAssign)]
        )
        for node in (node for node in nodes if not _is_text(node)):
            made_of.update(f"{name} {ast.dump(_without_docstrings(node))}".encode())
    return made_of.hexdigest()[:16]


def _module(root: Path, path: Path) -> str:
    inner = path.relative_to(root).with_suffix("").as_posix()
    return f"{root.name}.{inner.replace('/', '.')}"


def _imports(tree: Any) -> set[str]:
    """The modules that a module imports, or imports from."""
    modules = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom) and node.module:
            modules |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
        elif isinstance(node, ast.Import):
            modules |= {alias.name for alias in node.names}
    return modules


def _without_docstrings(node: Any):
    inner: Any
    for inner in ast.walk(node):
        body = getattr(inner, "body", None)
        if isinstance(body, list):
            inner.body = [line for line in body if not _is_text(line)]
    return node


def _is_text(node: Any) -> bool:
    return isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)


def clear_old(now: float | None = None) -> None:
    """Mark the folder as used, and remove those that were not for two weeks."""
    here = folder()
    here.mkdir(parents=True, exist_ok=True)
    os.utime(here)
    for other in here.parent.glob("kernels-*"):
        if other != here and (now or time.time()) - other.stat().st_mtime > UNUSED_SECONDS:
            shutil.rmtree(other, ignore_errors=True)
    for kept in here.parent.glob("digest-*"):
        if (now or time.time()) - kept.stat().st_mtime > UNUSED_SECONDS:
            kept.unlink(missing_ok=True)


class Locator(_CacheLocator):
    """Tells Numba where the core's compiled functions are kept."""

    def __init__(self, module: str):
        self._module, self._folder = module, folder()

    def get_cache_path(self) -> str:
        """The folder."""
        return str(self._folder)

    def get_source_stamp(self) -> str:
        """Always the same: the folder's name stands for the source."""
        return "as the folder's name says"

    def get_disambiguator(self) -> str:
        """The module: functions of one name in two modules are two."""
        return self._module

    @classmethod
    def from_function(cls, py_func: Callable, py_file: str):
        """The locator of a function of the core; None for any other."""
        return cls(py_func.__module__) if py_func.__module__.startswith("kilncore.") else None
