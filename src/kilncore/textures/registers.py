"""Textures as registers of a program: straight from their own bytes where they lie pixel on pixel,
else sampled first.
"""

import math
from collections.abc import Callable
from typing import Any

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import Box
from kilncore.graph.protocols import NodeReader
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.perspective.projection import Projection
from kilncore.prep.texture_ref import TextureRef

Sampled = tuple[tuple[Register, ...], Register | None]


def texture_registers(
    reader: NodeReader,
    program: Program,
    box: Box,
    ref: TextureRef,
    matrix: tuple[float, ...],
    luminance: bool = False,
    key: tuple | None = None,
    specks: tuple[float, float] | None = None,
    projection: Projection | None = None,
) -> Sampled:
    """A register of each channel, 0..1, within `box`, and of the share of each pixel that the
    texture covers, None without an end.

    matrix : as Frame.texture_matrix gives it. luminance : one channel, the texture as a mask. key :
    by which what is sampled may be kept for the next picture. specks : as `mask_of` takes them.
    projection : of what it lies on, as `Texture.sample` takes it.
    """
    texture = mask_of(reader, ref, specks) if luminance else reader.assets.texture(ref)
    whole = None if projection else texture.pixel_on_pixel(matrix, ref.edges)
    if whole is not None:
        return program.repeat(
            texture.planes, whole[0] + program.box.left, whole[1] + program.box.top, texture.unit
        ), None
    return sampled_registers(reader, program, box, lambda: texture, ref, matrix, key, projection)


def mask_of(reader: NodeReader, ref: TextureRef, specks: tuple[float, float] | None = None):
    """A texture's luminance. specks : (sigma in px of the texture, share) as `Texture.flaked` takes
    them; None leaves it as it is.
    """
    mask = reader.assets.texture(ref).luminance
    return mask.flaked(*specks, ref.edges == "repeat") if specks else mask


def sampled_registers(
    reader: NodeReader,
    program: Program,
    box: Box,
    texture: Callable[[], Any],
    ref: TextureRef,
    matrix: tuple[float, ...],
    key: tuple | None = None,
    projection: Projection | None = None,
) -> Sampled:
    """The same of a texture that does not lie pixel on pixel. texture : makes it, if it has not
    been sampled here before.
    """

    def sample():
        return texture().sample(
            matrix, box.left, box.top, box.width, box.height, ref.edges, projection
        )

    planes, covered = reader.source((*key, box), sample) if key else sample()
    return program.load(planes, box), None if covered is None else program.load(covered[None], box)[
        0
    ]


def toned_registers(
    reader: NodeReader,
    program: Program,
    box: Box,
    ref: TextureRef,
    matrix: tuple[float, ...],
    scale: float,
    levels: tuple[float, float, float],
    key: tuple,
    specks: tuple[float, float] | None = None,
    projection: Projection | None = None,
) -> Sampled:
    """In a draft: the mean and the mean square of a mask's tones through levels, and the share of
    each pixel that it covers.

    levels : (black, gamma, white). scale : output px per document px, below 1.
    """
    read = math.hypot(matrix[0], matrix[1])
    nearest = read if projection is None else 1.0  # in perspective it is read at many scales
    key = (*key, *levels, specks)

    def toned() -> Any:
        mask = mask_of(reader, ref, specks)
        return mask.toned(read * scale, matrix[1] != 0, *levels, read=nearest)

    return sampled_registers(reader, program, box, toned, ref, matrix, key, projection)


def texture_variance(
    reader: NodeReader,
    program: Program,
    box: Box,
    ref: TextureRef,
    placement: TexturePlacement,
    frame: Frame,
) -> Register:
    """In a draft: of a texture's tones that one pixel stands for."""
    matrix, key = frame.texture_matrix(placement), (ref, placement, frame, "variance")
    (mean, square), _ = toned_registers(
        reader,
        program,
        box,
        ref,
        matrix,
        frame.scale,
        (0.0, 1.0, 1.0),
        key,
        projection=frame.laid,
    )
    return program.op("max", square - mean * mean, program.constant(0))


def premultiplied(
    registers: tuple[Register, ...], covered: Register | None
) -> tuple[Register, ...]:
    """A sampled texture's channels as a picture: premultiplied with alpha where the texture has an
    end or alpha.

    Resampling may carry colour a hair above alpha: it is clamped.
    """
    if len(registers) == 4:
        registers, covered = registers[:-1], registers[-1]
    if covered is None:
        return registers
    colour = [covered.program.op("min", register, covered) for register in registers]
    return (*(colour * 3 if len(colour) == 1 else colour), covered)
