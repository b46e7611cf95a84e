"""Textures as registers of a program: straight from their own bytes where they lie pixel on pixel,
else sampled first.
"""

import math
from collections.abc import Callable
from typing import Any

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.protocols import NodeReader
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.perspective.projection import Projection
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures.blocks import sampled

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
    extent: Box | None = None,
) -> Sampled:
    """The same of a texture that does not lie pixel on pixel. texture : makes it, if it has not
    been sampled here before. extent : of what is drawn; then it is
    kept wherever its map lies (`blocks`).
    """

    def sample(part: Box) -> Any:
        return texture().sample(
            matrix, part.left, part.top, part.width, part.height, ref.edges, projection
        )

    if extent is not None:
        make = lambda part: _all(sample(part))  # noqa: E731
        rows = sampled(reader, program, box, matrix, key or (), make, extent)
        return (rows[:-1], rows[-1]) if ref.edges == "none" else (rows, None)
    planes, covered = reader.source((*key, box), lambda: sample(box)) if key else sample(box)
    return program.load(planes, box), None if covered is None else program.load(covered[None], box)[
        0
    ]


def _all(sampled: tuple) -> np.ndarray:
    """(C, H, W), or (C + 1, H, W) with the share of each pixel that is covered."""
    planes, covered = sampled
    return planes if covered is None else np.concatenate([planes, covered[None]])


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
    extent: Box = EVERYWHERE,
) -> Sampled:
    """In a draft: the mean and the mean square of a mask's tones through levels, and the share of
    each pixel that it covers.

    levels : (black, gamma, white). scale : output px per document px, below 1. extent : of
    what is drawn.
    """
    read = math.hypot(matrix[0], matrix[1])
    nearest = read if projection is None else 1.0  # in perspective it is read at many scales
    key = ("toned", ref, *levels, specks, scale) if projection is None else (*key, *levels, specks)

    def toned() -> Any:
        mask = mask_of(reader, ref, specks)
        return mask.toned(read * scale, matrix[1] != 0, *levels, read=nearest)

    within = extent if projection is None else None
    return sampled_registers(reader, program, box, toned, ref, matrix, key, projection, within)


def texture_variance(
    reader: NodeReader,
    program: Program,
    box: Box,
    ref: TextureRef,
    placement: TexturePlacement,
    frame: Frame,
    extent: Box = EVERYWHERE,
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
        extent=extent,
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
