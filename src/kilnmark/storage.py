"""The asset store of the web side: one per process, so that decoded textures are shared."""

from functools import cache
from pathlib import Path

from django.conf import settings

from kilncore.assets import AssetStore


@cache
def assets() -> AssetStore:
    return AssetStore(settings.DATA / "assets", settings.DATA / "ready", settings.DATA / "measured")


def folder_for(name: str) -> Path:
    """A folder of the data, made if it is not there."""
    folder = settings.DATA / name
    folder.mkdir(parents=True, exist_ok=True)
    return folder
