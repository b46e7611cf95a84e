"""A picture that was brought in: fitted to the piece, one px to one, or repeated."""

from dataclasses import dataclass, field, replace
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from kilncore.compiled.program import Program
from kilncore.fills.base import GROUND, Area, Fill, fill
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.model.files import PictureHash, TextureHash
from kilncore.model.frame import Frame
from kilncore.model.setting import setting
from kilncore.model.texture import TexturePlacement
from kilncore.pixels.picture import Picture, of_planes
from kilncore.pixels.pixel_format import OPAQUE, PixelFormat
from kilncore.prep.chain import Chain, draft_level, meaning, size_of
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures.registers import premultiplied, sampled_registers

FITS = (
    ("cover", "Cover the piece"),
    ("contain", "All of it within the piece"),
    ("pixels", "As it lies"),
    ("mirror", "As it lies, mirrored beyond"),
    ("repeat", "Repeated"),
)
COVERING = ("cover", "contain")  # as large as the piece has it
ENDS = ("contain", "pixels")  # do not cover all


@fill("picture", title="Picture", summary="a picture", fills=(GROUND,))
class PictureFill(Fill):
    """hash : of the file. width, height : its own, upright. chain : how it is prepared. fit : how
    large it lies on the piece. scale : document px to one of the picture, where the piece does not
    say.
    """

    surface: ClassVar[bool] = True
    kind: Literal["picture"] = "picture"
    hash: PictureHash
    width: int = Field(gt=0, le=100_000)
    height: int = Field(gt=0, le=100_000)
    fit: Literal["cover", "contain", "pixels", "mirror", "repeat"] = setting(
        "cover", "Fit", "", "choice", choices=FITS, reload=True
    )
    scale: float = setting(
        1.0,
        "Scale",
        "",
        "number",
        unit="%",
        factor=100,
        soft=(1, 1000),
        ge=0.001,
        le=1000,
        if_="fit=pixels,mirror,repeat",
    )
    chain: Chain = setting((), "Preparation", "", "chain", reload=True)

    def scale_on(self, width: float, height: float) -> float:
        """Document px to one of the picture, on a piece of that size."""
        own = size_of(self.chain, self.width, self.height)
        ways = width / own[0], height / own[1]
        return {"cover": max(ways), "contain": min(ways)}.get(self.fit, self.scale)

    def node(self, area: Area) -> Node:
        """The picture on the page as it is, or where its frame lies; turning is its chain's."""
        frame = area.frame
        own = frame.of_page if self.fit in COVERING else replace(frame, rotation=0.0)
        return PictureNode(self, own)


@dataclass(frozen=True)
class PictureNode(Node):
    """A picture in a frame."""

    picture: PictureFill
    frame: Frame
    extent: Box = EVERYWHERE
    key: str = field(init=False)

    def __post_init__(self):
        settings = (self.picture.hash, self.picture.fit, self._scale, meaning(self.picture.chain))
        object.__setattr__(self, "key", key_of("picture fill", *settings, self.frame))

    @property
    def _scale(self) -> float:
        # the middle is on a whole px: a px more across, so that no edge stays bare
        return self.picture.scale_on(self.frame.page_width_px + 1, self.frame.page_height_px)

    def _texture(self, assets: Assets):
        picture, scale = self.picture, self.frame.scale
        shown = scale * self._scale
        level = draft_level(picture.chain, picture.width, picture.height, scale, shown)
        return assets.prepared(picture.hash, picture.chain, level)

    def pixel_format(self, assets: Assets | None) -> PixelFormat:
        """Opaque where it covers all and has no alpha."""
        assert assets is not None
        if self.picture.fit in ENDS or len(self._texture(assets).planes) == 4:
            return PixelFormat()
        return OPAQUE

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture:
        """Its channels."""
        placement = TexturePlacement.model_construct(scale=self._scale)
        matrix = self.frame.texture_matrix(placement)
        edges = "repeat" if self.picture.fit == "repeat" else "mirror"
        ref = TextureRef(hash=TextureHash(self.picture.hash), edges=edges)
        texture = self._texture(reader.assets)
        key = (self.key, "sampled")
        registers, _ = sampled_registers(reader, program, box, lambda: texture, ref, matrix, key)
        if self.picture.fit not in ENDS:
            return of_planes(program, premultiplied(registers, None))
        covered = program.load(self._within(box)[None], box)[0]
        *colour, alpha = (*registers, covered) if len(registers) < 4 else registers
        held = premultiplied((*(colour * 3 if len(colour) == 1 else colour), alpha), None)
        return of_planes(program, [one * covered for one in held] if alpha is not covered else held)

    def _within(self, box: Box) -> np.ndarray:
        """(H, W): how much of each pixel lies within the picture's own edges."""
        picture, frame = self.picture, self.frame
        sides = size_of(picture.chain, picture.width, picture.height)
        matrix = frame.texture_matrix(TexturePlacement.model_construct(scale=self._scale))
        shares = []
        for side, step, start, first, count in (
            (sides[1], matrix[3], matrix[5], box.top, box.height),
            (sides[0], matrix[0], matrix[4], box.left, box.width),
        ):
            middle, half = -start / step, side / 2 / step
            places = np.arange(first, first + count)
            ends = np.minimum(places + 1, middle + half), np.maximum(places, middle - half)
            shares.append(np.clip(ends[0] - ends[1], 0, 1))
        return np.outer(*shares).astype(np.float32)
