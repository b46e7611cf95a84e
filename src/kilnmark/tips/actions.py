"""Making tips of textures, and keeping strokes by a name."""

from kilncore.errors import KilnError
from kilncore.strokes.tip import tip_from
from kilnmark.storage import assets
from kilnmark.tips.models import StrokeSet, Tip

MOST_TIPS, MOST_SETS = 24, 60


def make(texture, name: str, darks: bool, share: float = 1.0) -> Tip:
    """A tip of the middle of a texture. share : how much of its shorter side, 0.1 to 1."""
    owner = texture.owner
    if owner.tips.here().count() >= MOST_TIPS:
        raise KilnError(f"There are {MOST_TIPS} tips of your own already. Throw one away first.")
    tip = tip_from(assets().source(texture.hash).planes, darks, min(max(share, 0.1), 1.0))
    name = name.strip()[:40] or texture.name[:40]
    return Tip.objects.create(owner=owner, name=name, told=tip.told)


def keep(owner, files: tuple[str, ...], name: str) -> StrokeSet:
    """Strokes by the names of their files, under a name."""
    if not files:
        raise KilnError("There are no strokes here to keep.")
    if owner.stroke_sets.here().count() >= MOST_SETS:
        raise KilnError(f"There are {MOST_SETS} sets already. Throw one away first.")
    told = [str(one) for one in files]
    return StrokeSet.objects.create(owner=owner, name=name.strip()[:40] or "Strokes", files=told)
