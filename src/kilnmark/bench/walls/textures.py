"""The textures of the shelf, with their preps; and blend modes by textures."""

from kilncore.blending.modes import BLEND_MODES
from kilncore.document import Step
from kilncore.prep.texture_ref import TextureRef
from kilnmark.bench.walls.base import Candidate, Choice, setting
from kilnmark.preps.models import Prep
from kilnmark.shelf.models import Texture

MOST, MOST_PAIRED = 24, 5
PAIRED_MODES = ("multiply", "screen", "overlay", "soft-light", "color-burn")
GOOD_FOR = {"wear": "mask", "coat": "coat", "follow": "map"}


def textures(choice: Choice) -> list[Candidate]:
    """At the path of a texture."""
    now = choice.now
    if not isinstance(now, TextureRef | None) or not choice.path[-1].endswith("texture"):
        raise choice.gone()
    step = choice.at(choice.path[:-2])
    serves = GOOD_FOR.get(getattr(step, "kind", ""), "")
    return [
        Candidate(words, (setting(choice.path, ref),), _same(now, ref))
        for words, ref in offered(choice.owner, serves, now)
    ]


def pairs(choice: Choice) -> list[Candidate]:
    """At the path of a step that lays a texture over: five textures in five modes."""
    step = choice.now
    if not isinstance(step, Step) or step.params.__class__.model_fields.get("texture") is None:
        raise choice.gone()
    shelf = offered(choice.owner, GOOD_FOR.get(step.kind, ""), step.params.texture)[:MOST_PAIRED]
    modes = dict.fromkeys((step.landing.mode, *PAIRED_MODES))
    return [
        Candidate(
            f"{words}, {BLEND_MODES[mode].title.lower()}",
            (
                setting([*choice.path, "params", "texture"], ref),
                setting([*choice.path, "landing", "mode"], mode),
            ),
            _same(step.params.texture, ref) and mode == step.landing.mode,
        )
        for words, ref in shelf
        for mode in list(modes)[:MOST_PAIRED]
    ]


def offered(owner, serves: str, now: TextureRef | None) -> list[tuple[str, dict]]:
    """(name, reference) of textures and preps: the present one first, then the best ones."""
    rows = list(Texture.objects.here().filter(owner=owner).prefetch_related("preps")[:200])
    found = [(row.name, row.ref, serves in row.good_for, row.favourite) for row in rows]
    found += [
        (f"{row.name}, {prep.name}", prep.ref, serves == "mask", row.favourite)
        for row in rows
        for prep in _preps(row)
    ]
    found.sort(key=lambda one: (not _same(now, one[1]), not one[2], not one[3]))
    told = [(name, ref) for name, ref, *_ in found]
    if now is not None and not any(_same(now, ref) for _, ref in told):
        told.insert(0, ("as it is", now.model_dump(mode="json")))
    return told[:MOST]


def _preps(row: Texture) -> list[Prep]:
    return [prep for prep in row.preps.all() if prep.binned is None]


def _same(now: TextureRef | None, ref: dict) -> bool:
    return now is not None and TextureRef.model_validate(ref) == now
