"""The scripts of a page in one file: a browser pays for every module that it asks for, and the
bench has over a hundred.

esbuild puts them together when static files are collected; where it is not installed, each is asked
for by itself.
"""

import logging
import shutil
import subprocess
from functools import cache
from pathlib import Path

from django.contrib.staticfiles import finders

from kilnmark.bench.rooms import ROOMS

log = logging.getLogger(__name__)

# by page, the folders of static files whose modules start by being there, in this order
BUNDLES = {
    "bench": ("controls", "bench", *(f"bench/{room}" for room in ROOMS)),
    "directions": ("directions/components",),
    "prep": ("controls", "preps/components"),
}
BUILDER = "esbuild"
HOW = ("--bundle", "--format=esm", "--target=es2022", "--charset=utf8", "--log-level=warning")
PATIENCE = 60  # seconds


@cache
def modules_of(page: str) -> list[str]:
    """All modules of a page, below the static files: a new one is found by being there."""
    return [
        f"{folder}/{path.name}"
        for folder in BUNDLES[page]
        for path in sorted(Path(finders.find(folder)).glob("*.js"))
    ]


def name_of(page: str) -> str:
    """The bundle of a page, below the static files."""
    return f"bundles/{page}.js"


def bundle(collected: Path) -> list[str]:
    """Make the bundles of all pages in a folder of static files; the names of those that are there
    now.
    """
    builder = shutil.which(BUILDER)
    if builder is None:
        log.warning("%s is not installed: pages load their modules one by one", BUILDER)
        return []
    (collected / "bundles").mkdir(exist_ok=True)
    return [name_of(page) for page in BUNDLES if _made(builder, collected, page)]


def _made(builder: str, collected: Path, page: str) -> bool:
    """Whether the bundle of a page could be made."""
    entry, target = collected / f"bundles/{page}.entry.js", collected / name_of(page)
    entry.write_text("".join(f'import "../{name}";\n' for name in modules_of(page)))
    try:
        # told from the folder itself: what is made must not name the folder that it is made in
        command = [builder, f"bundles/{entry.name}", *HOW, f"--outfile={name_of(page)}"]
        subprocess.run(command, cwd=collected, check=True, timeout=PATIENCE, capture_output=True)
        return True
    except (OSError, subprocess.SubprocessError) as error:
        log.warning("the scripts of %s were not bundled: %s", page, error)
        target.unlink(missing_ok=True)
        return False
    finally:
        entry.unlink(missing_ok=True)
