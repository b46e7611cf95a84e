"""What marks hold in or out."""

from typing import Any

from kilncore.edits.operation import Key, operation
from kilncore.edits.tree import by_id, items_of, landings_of


@operation
def hold_by_region(tree: Any, mark: Key, region: dict):
    """Whatever a mark or group holds in or out is held by a region instead. region : a region
    limit's settings; each limit keeps its id, its side and its soft edge.
    """
    by_id(items_of(tree), mark)
    for landing in landings_of(tree):
        landing["limits"] = [
            {**region, **_kept(one)} if one.get("mark") == mark else one
            for one in landing["limits"]
        ]


def _kept(limit: dict) -> dict:
    return {name: limit[name] for name in ("id", "on", "outside", "feather") if name in limit}
