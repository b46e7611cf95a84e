"""A page of a PDF, drawn as placed in a limited child process."""

from typing import Literal

import numpy as np
from pydantic import Field

from kilncore.artwork.base import Art, art
from kilncore.artwork.blocks import BlockDrawing
from kilncore.artwork.drawing import Drawing
from kilncore.geometry.affine import MIRROR, Affine
from kilncore.model.files import PageHash
from kilncore.model.setting import setting
from kilncore.pdf.pages import page_drawn

LARGEST = 1e5


@art("page", title="PDF page", sentence="One page of a PDF, drawn sharp at any size.")
class PageArt(Art):
    """hash : of the PDF. page : from 0. width, height : of that page in px at 300 ppi, as it is
    placed at 100 %. scale : px of that size to a point.
    """

    kind: Literal["page"] = "page"
    hash: PageHash
    width: float = Field(gt=0, le=LARGEST)
    height: float = Field(gt=0, le=LARGEST)
    scale: float = Field(300 / 72, gt=0, le=1e4)
    page: int = setting(0, "Page", "", "page", reload=True, ge=0, le=10_000)
    mirrored: bool = setting(False, "Mirrored", "Left and right change places.", "toggle")

    def box_px(self, ppi: float, piece_height: float) -> tuple[float, float]:
        """Its own size."""
        return self.width, self.height

    @property
    def told(self) -> tuple:
        """All that its pixels depend on."""
        return self.hash, self.page, self.scale

    def drawing(self, placed: Affine, scale: float, ppi: float, piece_height: float) -> Drawing:
        """The page, drawn by child processes."""
        return BlockDrawing(self, (placed.of(MIRROR) if self.mirrored else placed).matrix, scale)

    def block(
        self, data: bytes, matrix: tuple[float, ...], width: int, height: int, unit: float
    ) -> np.ndarray:
        """(height, width, 4) straight bytes."""
        corner = Affine(self.scale, 0, 0, self.scale, -self.width / 2, -self.height / 2)
        return page_drawn(data, self.page, Affine(*matrix).of(corner).matrix, width, height)
