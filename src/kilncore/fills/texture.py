"""A texture, as placed on the piece."""

from dataclasses import dataclass, field
from typing import ClassVar, Literal

from kilncore.compiled.program import Program, Register
from kilncore.fills.base import Area, Fill, fill
from kilncore.fills.line import Line
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.model.frame import Frame
from kilncore.model.setting import setting
from kilncore.model.texture import TexturePlacement
from kilncore.pixels.picture import Picture, of_planes
from kilncore.pixels.pixel_format import OPAQUE, PixelFormat
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures.registers import premultiplied, texture_registers, texture_variance


@fill("texture", title="Texture", summary="a texture")
class TextureFill(Fill):
    """A surface. line : kept for a gradient in its place."""

    surface: ClassVar[bool] = True
    kind: Literal["texture"] = "texture"
    texture: TextureRef = setting(..., "Texture", "What the ground is made of.", "texture")
    placement: TexturePlacement = setting(
        TexturePlacement(), "Texture on the piece", "Where the texture lies.", "placement"
    )

    line: Line | None = None

    def node(self, area: Area) -> Node:
        """The texture in the frame of what it fills."""
        return TextureNode(self.texture, self.placement, area.frame)


@dataclass(frozen=True)
class TextureNode(Node):
    """A texture in a frame."""

    texture: TextureRef
    placement: TexturePlacement
    frame: Frame
    extent: Box = EVERYWHERE
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("texture", self.texture, self.placement, self.frame))

    def pixel_format(self, assets: Assets | None) -> PixelFormat:
        """Opaque, unless the texture ends or has alpha."""
        assert assets is not None
        return (
            OPAQUE
            if self.texture.edges != "none" and len(assets.texture(self.texture).planes) < 4
            else PixelFormat()
        )

    @property
    def cheap(self) -> bool:
        """Unscaled and upright, its own bytes are read."""
        flat = self.frame.projection is None
        return flat and abs(self.frame.texture_matrix(self.placement)[0]) == 1

    def tone_variance(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """In a draft: of the tones that one pixel stands for."""
        return texture_variance(reader, program, box, self.texture, self.placement, self.frame)

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture:
        """Its channels."""
        matrix, laid = self.frame.texture_matrix(self.placement), self.frame.laid
        registers, covered = texture_registers(
            reader, program, box, self.texture, matrix, projection=laid
        )
        return of_planes(program, premultiplied(registers, covered))
