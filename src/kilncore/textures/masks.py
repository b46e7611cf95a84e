"""Textures as masks: their tones through levels, as registers of a program.

A draft averages what the levels have made of the finished picture's pixels, as the exact picture
does. Where tones are shifted from pixel to pixel that cannot be known beforehand: there they are
taken as normally distributed about their mean.
"""

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.protocols import NodeReader
from kilncore.masks import levelled
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.pixels.mask import Mask
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures.registers import texture_registers, toned_registers

Points = tuple[float, float, float]


def mask_registers(
    reader: NodeReader,
    program: Program,
    box: Box,
    ref: TextureRef,
    placement: TexturePlacement,
    frame: Frame,
    points: Points,
    shift: Register | None = None,
    specks: tuple[float, float] | None = None,
    extent: Box = EVERYWHERE,
) -> tuple[Mask, Register | None]:
    """How much is shown within `box`, and the share of each pixel that the texture covers, or None.

    points : (black, gamma, white). shift : -1..1, added to its tones first. specks : as
    `registers.mask_of` takes them. extent : of what is drawn.
    """
    matrix = frame.texture_matrix(placement)
    key: tuple = (ref, placement, frame)
    if frame.scale >= 1:
        key = (*key, "luminance", specks)
        (tones,), share = texture_registers(
            reader, program, box, ref, matrix, True, key, specks, frame.laid
        )
        return Mask(levelled(tones if shift is None else tones + shift, *points)), share
    levels = points if shift is None else (0.0, 1.0, 1.0)
    rows, share = toned_registers(
        reader, program, box, ref, matrix, frame.scale, levels, key, specks, frame.laid, extent
    )
    return (Mask(*rows) if shift is None else _mean_mask(rows, shift, points)), share


def _mean_mask(moments: tuple[Register, ...], shift: Register, points: Points) -> Mask:
    """What levels make, on average, of tones of that mean and mean square, shifted. Tones of -1 to
    2 are read as 0 to 1.
    """
    (mean, square), (black, gamma, white) = moments, points
    program = mean.program
    variance = program.op("max", square - mean * mean, program.constant(0)) * (1 / 9)
    tones = (mean + shift + 1) * (1 / 3)
    low, high = ((point + 1) / 3 for point in (black, white))
    mean_kept = program.op("trapezoid_mean", tones, variance, numbers=(low, high, 2.0, 2.0))
    # the wider the ramp next to the spread, the less of a pixel is all hidden or all shown
    ramp = max(high - low, 1e-3)
    hard = program.op("ratio", variance, variance + ramp * ramp / 4)
    squared = mean_kept * mean_kept + mean_kept * (1 - mean_kept) * hard
    if gamma == 1:
        return Mask(mean_kept, squared)
    return Mask(program.op("power", mean_kept, numbers=(1 / gamma,)))
