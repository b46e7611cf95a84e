"""What a step may look at while it draws one box."""

import math

import numpy as np

from kilncore.box import Box, cut
from kilncore.engine.full import full
from kilncore.masks import levels
from kilncore.parts import TexturePlacement, TextureRef
from kilncore.seeds import seed_of


class StepView:
    def __init__(self, reader, node, box: Box):
        self._reader, self._node, self.box = reader, node, box
        self.frame, self.tint = node.frame, node.tint
        self._read = {}

    def input(self, margin: int = 0) -> np.ndarray:
        """The step's input over the box and `margin` px around: (4, H, W) premultiplied; (1, H, W) alpha of art of one
        colour, for steps that leave it so. Read-only."""
        return self._around("input", margin)

    def full_input(self, margin: int = 0) -> np.ndarray:
        """The same, always (4, H, W)."""
        return full(self.input(margin), self.tint)

    def beneath(self, margin: int = 0) -> np.ndarray:
        """What lies beneath the item, (4, H, W)."""
        return self._around("beneath", margin)

    @property
    def beneath_key(self) -> str:
        return self._node.beneath.key

    def _around(self, what: str, margin: int) -> np.ndarray:
        """Read once, as wide as it was first asked for; later and narrower, the same pixels."""
        have = self._read.get(what)
        if have is None or have[0] < margin:
            source = getattr(self._node, what)
            planes = self._reader.read(source, self.box.grown(margin))
            planes = planes if what == "input" and self.tint is not None else full(planes, source.tint)
            have = self._read[what] = margin, planes
        return np.ascontiguousarray(cut(have[1], self.box.grown(have[0]), self.box.grown(margin)))

    def whole(self):
        """What the step's kind works out over the whole item, once."""
        return self._node.survey.value(self._reader)

    def seed(self, purpose: str) -> int:
        """A 32-bit seed for one purpose of this step on this item."""
        return seed_of(self._node.item_seed, self._node.step.seed, purpose)

    def source(self, key: tuple, make):
        """make() for this box, kept while only what lies before the step changes. key : all else that it depends on."""
        return self._reader.source((*key, self.box), make)

    def texture(self, ref: TextureRef, placement: TexturePlacement, luminance: bool = False):
        """(C, H, W) float32, 0..1, of a texture as placed in the item's frame, and the share of each pixel it covers.

        C is 1 when only luminance is wanted. The share is None for a texture without an end.
        """
        return self.source((ref, placement, self.frame, luminance), lambda: sampled(
            self._reader.assets, ref, self.frame.texture_matrix(placement), self.box, luminance))

    def mask(self, ref: TextureRef, placement: TexturePlacement, black: float, gamma: float, white: float):
        """(H, W) float32: a texture's luminance through levels, and the share of each pixel that it covers, or None.

        A draft averages what the levels have made of the finished picture's pixels, as the exact picture does.
        """
        return self.source((ref, placement, self.frame, black, gamma, white),
                           lambda: self._mask(ref, placement, black, gamma, white))

    def _mask(self, ref, placement, black, gamma, white):
        matrix, scale, box = self.frame.texture_matrix(placement), self.frame.scale, self.box
        if scale >= 1:
            tones, share = sampled(self._reader.assets, ref, matrix, box, luminance=True)
            return levels(tones[0], black, gamma, white), share
        ratio = math.hypot(matrix[0], matrix[1]) * scale
        toned = self._reader.assets.texture(ref.hash).luminance.toned(ratio, matrix[1] != 0, black, gamma, white)
        tones, share = toned.sample(matrix, box.left, box.top, box.width, box.height, ref.edges)
        return tones[0], share

    def outline(self, mark: str, margin: int) -> np.ndarray:
        return outline_of(self._reader, self._node, mark, self.box.grown(margin))

    def take(self, picture: np.ndarray) -> None:
        """Make an earlier result of the same step the input of its next one."""
        self._read["input"] = 0, picture


def sampled(assets, ref: TextureRef, matrix, box: Box, luminance: bool = False):
    texture = assets.texture(ref.hash)
    texture = texture.luminance if luminance else texture
    return texture.sample(matrix, box.left, box.top, box.width, box.height, ref.edges)


class ItemView:
    """What the landing of an item may look at."""

    def __init__(self, reader, node, box: Box, canvas: np.ndarray):
        self._reader, self._node, self._canvas = reader, node, canvas
        self.box, self.frame = box, node.frame

    def full_input(self, margin: int = 0) -> np.ndarray:
        return self._canvas

    beneath = full_input

    def outline(self, mark: str, margin: int) -> np.ndarray:
        return outline_of(self._reader, self._node, mark, self.box.grown(margin))


def outline_of(reader, node, mark: str, box: Box) -> np.ndarray:
    """(H, W) alpha of the bare art of a mark that holds a landing in or out."""
    return reader.read(node.outlines[mark], box)[-1]
