"""Soften: a true Gaussian blur, so that art is no sharper than the surface it sits on."""

from dataclasses import replace

from kilncore.blur import blur_within
from kilncore.blur import reach as blur_reach
from kilncore.graph.protocols import View
from kilncore.model.base import Model
from kilncore.model.units import Length, px
from kilncore.steps.base import Remake, setting, step

WHOLE = 1 + 2e-6  # what was everywhere stays so: the weights' sum is 1 but for rounding


class SoftenSettings(Model):
    """How soft."""

    radius: Length = setting(
        px(1), "Softness", "The spread of the blur, one sigma.", "length", soft=(0, 12)
    )


def _sigma(settings, frame) -> float:
    return min(max(frame.length(settings.radius), 0), 100)


@step(
    "soften",
    title="Soften",
    sentence="Takes the edge off, until the art is no sharper than its surface.",
    gives="remake",
    planewise=True,
    settings=SoftenSettings,
    summary=lambda p: str(p.radius),
    reach=lambda settings, frame: blur_reach(_sigma(settings, frame)),
)
def soften(settings: SoftenSettings, view: View):
    """The picture, blurred."""
    sigma = _sigma(settings, view.frame)
    margin = blur_reach(sigma)
    soft = blur_within(
        view.input(margin), sigma, sigma, view.box.left - margin, view.box.top - margin
    )
    picture = view.pictured(soft)
    if picture.alpha is None:
        return Remake(picture)
    return Remake(replace(picture, alpha=picture.alpha.clamped(WHOLE)))
