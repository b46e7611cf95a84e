"""What a step may look at while it is written for one box."""

from collections.abc import Callable
from typing import Any

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import Box, crop
from kilncore.model.texture import TexturePlacement
from kilncore.noise.seeds import seed_of
from kilncore.pixels.mask import Mask
from kilncore.pixels.picture import Picture, of_planes, tinted
from kilncore.planes.mean import luma_of
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures.blocks import sampled
from kilncore.textures.masks import mask_registers
from kilncore.textures.registers import texture_registers, texture_variance

NOT_YET = object()


class View:
    """program : where registers are written. box : the part of the program's box in which what
    lands can have any effect.
    """

    def __init__(self, reader: Any, node: Any, program: Program, box: Box):
        self._reader, self._node, self.program, self.box = reader, node, program, box
        self.frame = node.frame

    def loaded(self, plane: np.ndarray) -> Register:
        """An (H, W) array of the box as a row."""
        return self.program.load(plane[None], self.box)[0]

    varies = False

    def plane(self, name: str) -> Register:
        """One of the planes that the step or the landing named."""
        return self._reader.plane(self._node.planes[name], self.program)

    @property
    def plane_names(self) -> list[str]:
        """Those that there are."""
        return list(self._node.planes)

    def value(self, name: str):
        """A whole-item value that the step named."""
        return self._reader.value(self._node.planes[name])


class ItemView(View):
    """What the landing of an item may look at."""

    def __init__(self, reader: Any, node: Any, program: Program, box: Box, canvas: Picture | None):
        super().__init__(reader, node, program, box)
        self._canvas = canvas

    def picture(self) -> Picture | None:
        """What the item lands on."""
        return self._canvas

    beneath = picture


class StepView(View):
    """What a step may look at. varies : whether the variance of a draft's tones is asked for."""

    def __init__(self, reader: Any, node: Any, program: Program, box: Box, varies: bool = False):
        super().__init__(reader, node, program, box)
        self.varies = node.frame.scale < 1 and (varies or node.landing.reads_of("own"))
        self._source, self._alone, self._tint = node.input, node.alone, node.tint
        self._read: tuple[int, np.ndarray] | None = None
        self._taken: Any = NOT_YET

    def _allow(self, margin: int, declared: int, what: str) -> None:
        """Refuse to read farther around than the step's kind has said."""
        if margin > declared:
            raise ValueError(
                f"step {self._node.kind.kind!r} asks for {margin} px around its {what}, and "
                f"has declared {declared}"
            )

    @property
    def strength(self) -> float:
        """Of the step's landing, 0..3."""
        return self._node.landing.strength

    # --- what is there ---

    def picture(self) -> Picture | None:
        """The step's input as registers; None if there is nothing. For steps that treat each pixel
        by itself.
        """
        if self._taken is NOT_YET:
            self._taken = (
                self._reader.picture(self._source, self.program)
                if self._read is None
                else self.pictured(self.input())
            )
        return self._taken

    def input(self, margin: int = 0) -> np.ndarray:
        """The step's input over the box and `margin` px around: (4, H, W) premultiplied. To kinds
        that treat every plane alike: (1, H, W) alpha of art of one colour, (3, H, W) of an opaque
        picture. Read-only."""
        self._allow(margin, self._node.reach, "input")
        if self._read is None or self._read[0] < margin:
            self._read = (
                margin,
                self._reader.read(self._source, self.box.expanded(margin), self._alone),
            )
        have, planes = self._read
        return np.ascontiguousarray(
            crop(planes, self.box.expanded(have), self.box.expanded(margin))
        )

    def pictured(self, planes: np.ndarray) -> Picture:
        """Planes as `input` gives them, of the box, as registers."""
        if len(planes) == 1 and self._tint:
            return tinted(self.program, self.loaded(planes[0]), self._tint)
        return of_planes(self.program, planes, self.box)

    @property
    def within(self) -> Box:
        """The box beyond which its input has nothing."""
        return self._source.extent

    def take(self, picture: Picture | None) -> None:
        """Make an earlier result of the same step the input of its next one."""
        self._taken = picture

    def beneath(self) -> Picture | None:
        """What lies beneath the item, as registers."""
        return self._reader.picture(self._node.beneath, self.program)

    def beneath_luma(self, margin: int = 0) -> np.ndarray:
        """(H, W) luma times alpha of what lies beneath, over the box and `margin` px around."""
        self._allow(margin, self._node.around, "ground")
        return luma_of(self._reader, self._node.beneath, self.box.expanded(margin))

    def plane_array(self, name: str, margin: int = 0) -> np.ndarray:
        """(H, W) float32 of one of the planes that the step named, over the box and `margin` px
        around.
        """
        self._allow(margin, self._node.around, f"plane {name!r}")
        program = Program(self.box.expanded(margin))
        planes = program.planes((self._reader.plane(self._node.planes[name], program),))
        program.run()
        return planes[0]

    def plane_key(self, name: str) -> str:
        """The key of one of the planes that the step named."""
        return self._node.planes[name].key

    def aside(self, work: Callable):
        """work(this view in a program of its own): a number, or an (H, W) array where it
        gives a row.
        """
        program = Program(self.box)
        made = work(StepView(self._reader, self._node, program, self.box))
        if not isinstance(made, Register):
            return made
        planes = program.planes((made,))
        program.run()
        return planes[0]

    # --- what is brought ---

    def seed(self, purpose: str) -> int:
        """A 32-bit seed for one purpose of this step on this item."""
        return seed_of(self._node.item_seed, self._node.step.seed, purpose)

    def source(self, key: tuple, make: Callable):
        """make() for this box, kept while only what lies before the step changes. key : all else
        that it depends on.
        """
        return self._reader.source((*key, self.box), make)

    def sampled(
        self, key: tuple, matrix: tuple[float, ...], make: Callable
    ) -> tuple[Register, ...]:
        """A row of each plane that make(box) gives, (C, H, W), kept as `textures.blocks` keeps it.
        matrix : from output px to what is sampled. key : all else that it depends on.
        """
        return sampled(self._reader, self.program, self.box, matrix, key, make, self._node.extent)

    def texture(
        self, ref: TextureRef, placement: TexturePlacement
    ) -> tuple[tuple[Register, ...], Register | None]:
        """A row of each channel, 0..1, of a texture as placed in the item's frame, and of the share
        of each pixel that it covers, None for a texture without an end."""
        return texture_registers(
            self._reader,
            self.program,
            self.box,
            ref,
            self.frame.texture_matrix(placement),
            key=(ref, placement, self.frame),
            projection=self.frame.laid,
        )

    def texture_variance(self, ref: TextureRef, placement: TexturePlacement) -> Register:
        """In a draft: of the tones of the texture that one pixel stands for."""
        node, frame = self._node, self.frame
        return texture_variance(
            self._reader, self.program, self.box, ref, placement, frame, node.extent
        )

    def painted(self, picture: Any) -> Picture:
        """What a step gives to paint with, clamped: the landing cuts its colours, but counts on its
        alpha.
        """
        if isinstance(picture, np.ndarray):
            return of_planes(self.program, picture, self.box).clamped()
        picture = picture if isinstance(picture, Picture) else of_planes(self.program, picture)
        return picture if picture.alpha is None else picture.clamped()

    def mask(
        self,
        ref: TextureRef,
        placement: TexturePlacement,
        points: tuple[float, float, float],
        shift: Register | None = None,
        specks: tuple[float, float] | None = None,
    ) -> tuple[Mask, Register | None]:
        """A texture's luminance through levels, and the share of each pixel that it covers, or
        None.

        points, shift, specks : as `textures.masks.mask_registers` takes them.
        """
        return mask_registers(
            self._reader,
            self.program,
            self.box,
            ref,
            placement,
            self.frame,
            points,
            shift,
            specks,
            self._node.extent,
        )

    def cells(self, column: int, row: int, seed: int) -> Register:
        """White noise of mean 0 and spread 1, a value of its own for each pixel. column, row : the
        cell at pixel (0, 0).
        """
        return self.program.cells(column + self.program.box.left, row + self.program.box.top, seed)


class CarriedView(StepView):
    """The view of a step that moves another picture than its input."""

    def __init__(self, reader: Any, node: Any, program: Program, box: Box, carried: Any):
        super().__init__(reader, node, program, box)
        self._source, self._tint, self._alone = carried, carried.tint, True
