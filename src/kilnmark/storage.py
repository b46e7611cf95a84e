"""The asset store of the web side: one per process, so that decoded textures are shared."""

from functools import cache

from django.conf import settings

from kilncore.assets import AssetStore


@cache
def assets() -> AssetStore:
    return AssetStore(settings.DATA / "assets")
