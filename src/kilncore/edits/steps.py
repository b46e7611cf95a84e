"""The steps of a treatment."""

import copy
from typing import Annotated, Any

from pydantic import Field

from kilncore.document import MAX_STEPS, Step, new_seed, sort_of
from kilncore.edits.operation import Key, Place, operation
from kilncore.edits.tree import by_id, holding, moved, treatment_of
from kilncore.errors import KilnError
from kilncore.model.base import new_id
from kilncore.steps import STEPS

Seed = Annotated[int, Field(ge=0, lt=2**31)]


@operation
def add_step(tree: Any, part: Key, kind: Key, params: dict | None = None, at: Place | None = None):
    """A new step, with the landing that its kind begins with. at : its place; the last, if None."""
    treatment = treatment_of(tree, part)
    landing = STEPS.named(kind).landing.model_dump(mode="json")
    step = {"id": new_id(), "kind": kind, "params": params or {}, "landing": landing}
    treatment.insert(len(treatment) if at is None else int(at), step)


@operation
def add_steps(
    tree: Any,
    part: Key,
    steps: Annotated[list[dict], Field(max_length=MAX_STEPS)],
    instead: bool = False,
):
    """Steps of a recipe, with settings, seeds and landings of their own, as the last ones; those
    that cannot treat the part are left out. instead : in the place of all that are there.
    """
    wanted = [one for one in steps if isinstance(one.get("kind"), str)]
    fitting = [one for one in wanted if sort_of(part) in STEPS.named(one["kind"]).offered_for]
    if not fitting:
        raise KilnError("None of these steps can treat that part. Nothing was changed.")
    treatment = treatment_of(tree, part)
    if instead:
        treatment.clear()
    known = set(Step.model_fields) - {"id"}
    treatment.extend(
        {**{name: one[name] for name in known if name in one}, "id": new_id()} for one in fitting
    )


@operation
def remove_step(tree: Any, step: Key):
    """Gone."""
    treatment = holding(tree, step)
    treatment.remove(by_id(treatment, step))


@operation
def copy_step(tree: Any, step: Key):
    """A twin behind the step, with a seed of its own."""
    treatment = holding(tree, step)
    twin = {
        **copy.deepcopy(by_id(treatment, step)),
        "id": new_id(),
        "seed": new_seed(),
        "shared": "",
    }
    treatment.insert(treatment.index(by_id(treatment, step)) + 1, twin)


@operation
def seed_step(tree: Any, step: Key, seed: Seed):
    """The same step, thrown anew: another seed."""
    by_id(holding(tree, step), step)["seed"] = seed


@operation
def move_step(tree: Any, step: Key, to: Place):
    """To another place in its treatment."""
    moved(holding(tree, step), step, to)


@operation
def copy_steps(
    tree: Any,
    part: Key,
    to: Key,
    steps: Annotated[list[Key], Field(max_length=MAX_STEPS)] | None = None,
):
    """Steps of one part as the last ones of another, all of them if none are named; those that
    cannot treat it are left out. Steps keep their seeds, as recipes do.
    """
    wanted = [one for one in treatment_of(tree, part) if steps is None or one["id"] in steps]
    fitting = [one for one in wanted if sort_of(to) in STEPS.named(one["kind"]).offered_for]
    if not fitting:
        raise KilnError(
            "None of these steps can treat that part. Nothing was copied."
            if wanted
            else "There is no step to copy there."
        )
    treatment_of(tree, to).extend(
        {**copy.deepcopy(one), "id": new_id(), "shared": ""} for one in fitting
    )
