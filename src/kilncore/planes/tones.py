"""The tones of a picture, or of a texture as it lies, as a plane: what a surface is read as."""

from dataclasses import dataclass, field

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import Plane
from kilncore.graph.protocols import NodeReader
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures.registers import texture_registers

CHANNELS = ("red", "green", "blue")
NO_SURFACE = 0.5  # tone where a texture has an end


@dataclass(frozen=True)
class Tones(Plane):
    """of : a picture. channel : 'luminance', 'red', 'green' or 'blue'; times alpha."""

    of: Node
    channel: str
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("tones", self.of.key, self.channel))

    @property
    def extent(self) -> Box:
        """That of the picture."""
        return self.of.extent

    @property
    def settings(self):
        """Its channel."""
        return (self.channel,)

    @property
    def sources(self):
        """The picture."""
        return ((self.of, 0),)

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """0..1."""
        picture = reader.picture(self.of, program)
        if picture is None:
            return program.constant(0)
        if self.channel == "luminance":
            return picture.luma()
        picture = picture if picture.alpha is None else picture.premultiply()
        return picture.colour[CHANNELS.index(self.channel)]


@dataclass(frozen=True)
class TextureTones(Plane):
    """A texture as it is placed in a frame. stretched : the box that it is stretched over instead,
    in output px."""

    ref: TextureRef
    placement: TexturePlacement
    frame: Frame
    channel: str
    stretched: Box | None = None
    key: str = field(init=False)
    extent: Box = EVERYWHERE

    def __post_init__(self):
        settings = self.ref, self.placement, self.frame, self.channel, self.stretched
        object.__setattr__(self, "key", key_of("texture tones", *settings))

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """0..1; where the texture has an end, NO_SURFACE beyond it."""
        grey = self.channel == "luminance"
        rows, covered = texture_registers(
            reader,
            program,
            program.box,
            self.ref,
            self._matrix(reader),
            grey,
            ("sampled", self.key),
            projection=None if self.stretched else self.frame.laid,
        )
        if len(rows) == 4:
            rows, covered = rows[:-1], rows[-1]
        row = rows[0 if len(rows) == 1 else CHANNELS.index(self.channel)]
        return row if covered is None else row + (1 - covered) * NO_SURFACE

    def _matrix(self, reader: NodeReader) -> tuple[float, ...]:
        box = self.stretched
        if box is None:
            return self.frame.texture_matrix(self.placement)
        texture = reader.assets.texture(self.ref)
        (wide, tall) = texture.size
        across, down = wide / max(box.width, 1), tall / max(box.height, 1)
        x, y = (box.left + box.right) / 2, (box.top + box.bottom) / 2
        return across, 0.0, 0.0, down, -across * x, -down * y
