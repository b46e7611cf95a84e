"""Steps that several parts share: what is changed of one is changed of all.

Their settings and their seed are shared; how each lands, whether it is on, and what belongs to one
place only (points that are held, regions) stays its own.
"""

import copy
from typing import Any

from kilncore.document import MAX_ITEMS, sort_of
from kilncore.edits.operation import Key, Keys, operation
from kilncore.edits.tree import Tree, by_id, holding, treatment_of, treatments_of
from kilncore.errors import KilnError
from kilncore.model.base import new_id
from kilncore.recipe import OWN_PLACE
from kilncore.steps import STEPS


@operation
def share_step(tree: Any, step: Key, parts: Keys):
    """The step as the last one of other parts too, and one with it from now on."""
    own = by_id(holding(tree, step), step)
    offered = STEPS.named(own["kind"]).offered_for
    fitting = [one for one in parts[:MAX_ITEMS] if sort_of(one) in offered]
    if not fitting:
        raise KilnError("This step cannot treat that part. Nothing was shared.")
    own["shared"] = own.get("shared") or new_id()
    for part in fitting:
        treatment = treatment_of(tree, part)
        if not any(one.get("shared") == own["shared"] for one in treatment):
            treatment.append({**copy.deepcopy(own), "id": new_id()})


@operation
def unshare_step(tree: Any, step: Key):
    """Its own again, as it is now."""
    by_id(holding(tree, step), step)["shared"] = ""


def shared_alike(tree: Tree, before: Tree) -> None:
    """What edits changed of a step that is shared, changed of the others too. before : the tree as
    it was. Of several that were changed the last one counts.
    """
    sharing = [step for steps in treatments_of(tree) for step in steps if step.get("shared")]
    if not sharing:
        return
    earlier = {step["id"]: step for steps in treatments_of(before) for step in steps}
    for step in sharing:
        old = earlier.get(step["id"])
        if old is not None and _told(old) != _told(step):
            for other in sharing:
                if other["shared"] == step["shared"] and other is not step:
                    _follow(other, step)


def _told(step: dict) -> tuple:
    return {k: v for k, v in step["params"].items() if k not in OWN_PLACE}, step.get("seed")


def _follow(other: dict, step: dict) -> None:
    own = {name: other["params"][name] for name in OWN_PLACE if name in other["params"]}
    other["params"] = {**copy.deepcopy(step["params"]), **own}
    other["seed"] = step["seed"]
