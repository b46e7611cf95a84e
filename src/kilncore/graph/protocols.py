"""What nodes, art and steps may ask of whoever draws them. The engine's reader and views, and an
asset store, are these.
"""

from collections.abc import Callable, Hashable
from typing import Any, Protocol

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import Box


class Assets(Protocol):
    """Files by the hash of their content (`kilncore.assets`)."""

    def data(self, name: str) -> bytes:
        """The bytes of that hash."""

    def texture(self, ref: Any) -> Any:
        """The texture that a reference names, decoded."""

    def prepared(self, name: str, chain: tuple, level: int = 0, wraps: bool = False) -> Any:
        """A picture, or a copy of it halved so often, prepared by a chain of operations."""

    def is_ready(self, ref: Any) -> bool:
        """Whether the pixels of a prepared texture are at hand at full size."""

    def grows_specks(self, ref: Any) -> bool:
        """Whether an aim moves the edges of a texture's specks."""

    def source(self, name: str) -> Any:
        """A file as it came, decoded."""

    def strokes(self, name: str) -> tuple:
        """The strokes of a file of touch-up."""

    def keep(self, data: bytes) -> str:
        """Store bytes; returns their hash."""


class NodeReader(Protocol):
    """Reads nodes for one picture (`engine.reader`)."""

    assets: Assets
    cache: Any
    pixel_formats: Any

    @property
    def keeps_blocks(self) -> bool:
        """Whether what is sampled in whole blocks, more than is asked for, is found again."""

    def picture(self, node: Any, program: Program) -> Any:
        """A picture as registers of the program; None where there is nothing."""

    def plane(self, node: Any, program: Program) -> Register:
        """A plane as a register of the program."""

    def value(self, node: Any) -> Any:
        """A whole-item value."""

    def read(self, node: Any, box: Box, alone: bool = False) -> np.ndarray:
        """A picture as an array."""

    def once(self, key: Hashable, make: Callable[[], Any]) -> Any:
        """What is made once for all tiles."""

    def art_of(self, node: Any) -> Any:
        """The node of an item's bare art, as it is read here."""

    def source(self, key: Hashable, make: Callable[[], Any]) -> Any:
        """What is sampled for one box."""


class LandingView(Protocol):
    """What a landing may look at (`engine.view`)."""

    program: Program
    box: Box
    frame: Any

    def picture(self) -> Any:
        """What it is laid on, as registers."""

    def beneath(self) -> Any:
        """What lies beneath the item, as registers."""

    @property
    def plane_names(self) -> list[str]:
        """Of the planes that are there."""

    def plane(self, name: str) -> Register:
        """One of them."""


class View(LandingView, Protocol):
    """What a step may look at (`engine.view`)."""

    varies: bool

    @property
    def strength(self) -> float:
        """Of the step's landing."""

    @property
    def within(self) -> Box:
        """The box beyond which the input has nothing."""

    def input(self, margin: int = 0) -> np.ndarray:
        """The step's input as an array."""

    def value(self, name: str) -> Any:
        """A whole-item value that the step has named."""

    def seed(self, purpose: str) -> int:
        """A seed for one purpose of the step on its item."""

    def texture(self, ref: Any, placement: Any) -> Any:
        """A texture as placed: (a register of each channel, the share covered or None)."""

    def texture_variance(self, ref: Any, placement: Any) -> Register:
        """In a draft: of the tones that one pixel stands for."""

    def mask(self, *asked: Any) -> Any:
        """A texture's luminance through levels, and the share covered."""

    def painted(self, picture: Any) -> Any:
        """What a step gives to paint with, as a clamped picture."""

    def loaded(self, plane: np.ndarray) -> Register:
        """An array over the box as a register."""

    def pictured(self, planes: np.ndarray) -> Any:
        """Planes as `input` gives them, as registers."""

    def aside(self, work: Callable) -> Any:
        """work(this view in a program of its own), as a number or an array."""
