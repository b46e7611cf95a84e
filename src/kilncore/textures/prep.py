"""Preparing a texture: the operations of `kilncore.prep`, on a picture of floats."""

from typing import Any

import numpy as np
from pydantic import TypeAdapter, ValidationError

from kilncore.errors import KilnError
from kilncore.model.faults import fault_words
from kilncore.prep.chain import TextureChain, prepared

MIN_SIDE = 2
_CHAIN = TypeAdapter(TextureChain)


def chain_of(operations: Any) -> TextureChain:
    """Operations as a document has them, checked; KilnError says which of them does not fit."""
    try:
        return _CHAIN.validate_python(tuple(operations))
    except (ValidationError, TypeError) as error:
        words = fault_words(error) if isinstance(error, ValidationError) else str(error)
        raise KilnError(
            f"A texture cannot be prepared so: {words}.", repr(operations)[:200]
        ) from error


def apply(image: np.ndarray, operations: Any, wraps: bool = False) -> np.ndarray:
    """A texture prepared by operations, one after the other; those that are off do nothing.

    Parameters
    ----------
    image : (H, W) or (H, W, 3) float array
        0..1, sRGB-encoded.
    operations : sequence
        Dicts as a document has them, each with its `kind` and settings, or Operation models.
    wraps : bool
        Whether the texture repeats beyond its edges; else it is mirrored there.

    Returns
    -------
    (H, W) float32 array
        Or (H, W, 3) while it has colour, 0..1; of the size that the operations give.

    Raises
    ------
    KilnError
        For another image, or settings out of range.

    References
    ----------
    docs/engine.md lists the operations.
    """
    image = np.asarray(image, np.float32)
    if image.ndim not in (2, 3) or image.ndim == 3 and image.shape[2] != 3:
        raise KilnError("A texture must be (H, W) or (H, W, 3).", str(image.shape))
    if min(image.shape[:2]) < MIN_SIDE:
        raise KilnError(f"A texture must have {MIN_SIDE} px each way at least.", str(image.shape))
    image = np.clip(np.nan_to_num(image), 0, 1)
    planes = image[None] if image.ndim == 2 else np.moveaxis(image, 2, 0)
    made = prepared(chain_of(operations), np.ascontiguousarray(planes), 1.0, wraps)
    return made[0] if len(made) == 1 else np.ascontiguousarray(np.moveaxis(made, 0, 2))
