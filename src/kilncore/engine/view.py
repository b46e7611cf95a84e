"""What a step may look at while it is written for one box."""

import math

import numpy as np

from kilncore.box import Box, cut
from kilncore.engine.keys import key_of
from kilncore.engine.texture_rows import sampled_rows, texture_rows
from kilncore.masks import Mask, levelled
from kilncore.parts import TexturePlacement, TextureRef
from kilncore.rows.picture import Picture, of_planes, tinted
from kilncore.rows.tape import Row, Tape
from kilncore.seeds import seed_of
from kilncore.touch import touched

NOT_YET = object()


class View:
    """tape : where rows are written. box : the part of the tape's box in which what lands can have any effect."""

    def __init__(self, reader, node, tape: Tape, box: Box):
        self._reader, self._node, self.tape, self.box = reader, node, tape, box
        self.frame = node.frame

    def loaded(self, plane: np.ndarray) -> Row:
        """An (H, W) array of the box as a row."""
        return self.tape.load(plane[None], self.box)[0]

    def touched(self, files: tuple[str, ...]) -> np.ndarray:
        """(H, W) weights of the strokes in those files."""
        return touched(files, self.frame.own(), self.box, self._reader.assets, self._reader.cache, key_of)

    def outline(self, mark: str, margin: int) -> np.ndarray:
        """(H, W) alpha of the bare art of a mark that holds a landing in or out."""
        return self._reader.read(self._node.outlines[mark], self.box.grown(margin), alone=True)[-1]


class ItemView(View):
    """What the landing of an item may look at."""

    def __init__(self, reader, node, tape: Tape, box: Box, canvas: Picture | None):
        super().__init__(reader, node, tape, box)
        self._canvas = canvas

    def picture(self) -> Picture | None:
        return self._canvas

    beneath = picture


class StepView(View):
    def __init__(self, reader, node, tape: Tape, box: Box):
        super().__init__(reader, node, tape, box)
        self._read, self._taken = None, NOT_YET

    # --- what is there ---

    def picture(self) -> Picture | None:
        """The step's input as rows; None if there is nothing. For steps that treat each pixel by itself."""
        if self._taken is NOT_YET:
            self._taken = self._reader.picture(self._node.input, self.tape) if self._read is None else self.pictured(self.input())
        return self._taken

    def input(self, margin: int = 0) -> np.ndarray:
        """The step's input over the box and `margin` px around: (4, H, W) premultiplied. To kinds that treat every plane
        alike: (1, H, W) alpha of art of one colour, (3, H, W) of an opaque picture. Read-only."""
        if self._read is None or self._read[0] < margin:
            self._read = margin, self._reader.read(self._node.input, self.box.grown(margin), self._node.alone)
        have, planes = self._read
        return np.ascontiguousarray(cut(planes, self.box.grown(have), self.box.grown(margin)))

    def pictured(self, planes: np.ndarray) -> Picture:
        """Planes as `input` gives them, of the box, as rows."""
        if len(planes) == 1 and self._node.tint:
            return tinted(self.tape, self.loaded(planes[0]), self._node.tint)
        return of_planes(self.tape, planes, self.box)

    def take(self, picture: Picture | None) -> None:
        """Make an earlier result of the same step the input of its next one."""
        self._taken = picture

    def beneath(self) -> Picture | None:
        """What lies beneath the item, as rows."""
        return self._reader.picture(self._node.beneath, self.tape)

    def beneath_luma(self, margin: int = 0) -> np.ndarray:
        """(H, W) luma times alpha of what lies beneath, over the box and `margin` px around."""
        tape = Tape(self.box.grown(margin))
        picture = self._reader.picture(self._node.beneath, tape)
        if picture is None:
            return np.zeros((tape.box.height, tape.box.width), np.float32)
        found = tape.planes((picture.luma(),))
        tape.run()
        return found[0]

    @property
    def beneath_key(self) -> str:
        return self._node.beneath.key

    def whole(self):
        """What the step's kind works out over the whole item, once."""
        return self._node.survey.value(self._reader)

    def aside(self, work):
        """work(this view on a tape of its own): a number, or an (H, W) array where it gives a row."""
        tape = Tape(self.box)
        found = work(StepView(self._reader, self._node, tape, self.box))
        if not isinstance(found, Row):
            return found
        planes = tape.planes((found,))
        tape.run()
        return planes[0]

    # --- what is brought ---

    def seed(self, purpose: str) -> int:
        """A 32-bit seed for one purpose of this step on this item."""
        return seed_of(self._node.item_seed, self._node.step.seed, purpose)

    def source(self, key: tuple, make):
        """make() for this box, kept while only what lies before the step changes. key : all else that it depends on."""
        return self._reader.source((*key, self.box), make)

    def texture(self, ref: TextureRef, placement: TexturePlacement) -> tuple[tuple[Row, ...], Row | None]:
        """A row of each channel, 0..1, of a texture as placed in the item's frame, and of the share of each pixel that it
        covers, None for a texture without an end."""
        return texture_rows(self._reader, self.tape, self.box, ref, self.frame.texture_matrix(placement),
                            key=(ref, placement, self.frame))

    def mask(self, ref: TextureRef, placement: TexturePlacement, black: float, gamma: float, white: float) -> tuple[Mask, Row | None]:
        """A texture's luminance through levels, and the share of each pixel that it covers, or None.

        A draft averages what the levels have made of the finished picture's pixels, as the exact picture does.
        """
        matrix, scale, key = self.frame.texture_matrix(placement), self.frame.scale, (ref, placement, self.frame)
        if scale >= 1:
            (tones,), share = texture_rows(self._reader, self.tape, self.box, ref, matrix, True, (*key, "luminance"))
            return Mask(levelled(tones, black, gamma, white)), share
        ratio = math.hypot(matrix[0], matrix[1]) * scale
        mask = self._reader.assets.texture(ref.hash).luminance
        toned = mask.toned(ratio, matrix[1] != 0, black, gamma, white)
        rows, share = sampled_rows(self._reader, self.tape, self.box, toned, ref, matrix, (*key, black, gamma, white))
        return Mask(*rows), share

    def cells(self, column: int, row: int, seed: int) -> Row:
        """White noise of mean 0 and spread 1, a value of its own for each pixel. column, row : the cell at pixel (0, 0)."""
        return self.tape.cells(column + self.tape.box.left, row + self.tape.box.top, seed)
