"""How large what a piece shows is in the world: px of the piece and mm of the surface."""

from pydantic import Field

from kilncore.model.base import Model


class SurfaceScale(Model):
    """px : a way on the piece. mm : how long it is on the surface that the piece shows. It says
    nothing of the size in print, and no length of the document is told in it.
    """

    px: float = Field(ge=1, le=1e6)
    mm: float = Field(ge=0.01, le=1e8)

    def mm_of(self, px: float) -> float:
        """A way on the piece in mm on the surface."""
        return px * self.mm / self.px
