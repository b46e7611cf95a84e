"""What is measured of the ready texture."""

from kilncore.model.units import px_to_mm
from kilncore.prep.texture_ref import TextureRef
from kilncore.system.budget import READINGS
from kilncore.system.cache import ByteCache
from kilncore.textures.facts import SEAMLESS_UP_TO, Facts, facts_of
from kilnmark.storage import assets

KEPT = ByteCache(READINGS)


def facts_of_ready(ref: TextureRef) -> Facts:
    """Of all its pixels."""
    key = (str(ref.hash), ref.model_dump_json(exclude={"prep"}))
    return KEPT.get(key, lambda: facts_of(assets().texture(ref).planes))


def told(ref: TextureRef, before: Facts | None, ppi: float) -> list[str]:
    """In a few words, with the seam before and after."""
    found = facts_of_ready(ref)
    seam = max(found.across, found.down)
    words = "not seen" if seam <= SEAMLESS_UP_TO else "seen when repeated"
    was = f", was {max(before.across, before.down):.1f}" if before else ""
    speck = px_to_mm(found.coarse_px, ppi)
    return [
        f"{found.width} × {found.height} px",
        f"{100 * found.dark:.1f} % dark, {100 * found.white:.0f} % near white",
        f"specks about {found.coarse_px:.3g} px, {speck:.2g} mm",
        f"seam {seam:.1f}: {words}{was}",
    ]
