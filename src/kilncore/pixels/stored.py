"""Pixels as pictures and textures store them: (C, H, W) planes of uint8 or uint16, C = 1 grey, 3
colour, 4 premultiplied with alpha. And as straight floats.

What works on planes may be given float32 planes of 0..1 too: callers of the core have those.
"""

import numpy as np


def full_of(planes: np.ndarray) -> int:
    """The value of full white: 255, 65535, or 1 of floats."""
    return 1 if planes.dtype.kind == "f" else int(np.iinfo(planes.dtype).max)


def deep(dtype: np.dtype) -> np.dtype:
    """The type of what is worked out from planes of a type: 16 bits, so that no step of a chain
    shows; floats stay floats.
    """
    return np.dtype(np.float32 if np.dtype(dtype).kind == "f" else np.uint16)


def deepened(planes: np.ndarray) -> np.ndarray:
    """The same in 16 bits; floats and what has 16 bits as they are."""
    return planes.astype(np.uint16) * np.uint16(257) if planes.dtype == np.uint8 else planes


def held_to_alpha(planes: np.ndarray) -> np.ndarray:
    """The same planes, in place: where there is alpha, no colour above it."""
    if len(planes) == 4:
        np.minimum(planes[:3], planes[3], out=planes[:3])
    return planes


def put(values: np.ndarray, out: np.ndarray) -> None:
    """Store floats of 0..1, held to that, in planes of any type."""
    values = np.clip(values, 0, 1)
    if out.dtype.kind == "f":
        out[...] = values
    else:
        out[...] = np.rint(values * np.float32(full_of(out)))


def straight(planes: np.ndarray) -> tuple[np.ndarray, np.ndarray | None]:
    """(colours, alpha): (3, H, W) of the same type, alpha (H, W), or None where all is opaque."""
    if len(planes) == 1:
        return np.repeat(planes, 3, 0), None
    if len(planes) == 3:
        return planes, None
    alpha, full = planes[3], full_of(planes)
    inverse = np.float32(full) / np.maximum(alpha, 1).astype(np.float32)
    return np.stack(
        [np.minimum(np.rint(plane * inverse), full).astype(planes.dtype) for plane in planes[:3]]
    ), alpha


def premultiplied(colours: np.ndarray, alpha: np.ndarray) -> np.ndarray:
    """(4, H, W) of straight colours and alpha, all of one type."""
    out = np.empty((4, *alpha.shape), colours.dtype)
    share = alpha * np.float32(1 / full_of(alpha))
    for plane, colour in zip(out[:3], colours, strict=True):
        np.rint(colour * share, out=plane, casting="unsafe")
    out[3] = alpha
    return out


def times(alpha: np.ndarray, other: np.ndarray | None) -> np.ndarray:
    """The product of two alphas of one type; None is full."""
    if other is None:
        return alpha
    return np.rint(alpha * np.float32(1 / full_of(alpha)) * other).astype(alpha.dtype)


def of_floats(image: np.ndarray) -> np.ndarray:
    """(4, H, W) uint16, premultiplied, of a straight (H, W, 4) image, 0..1; ValueError for
    others.
    """
    image = np.asarray(image, np.float32)
    if image.ndim != 3 or image.shape[2] != 4 or not image.size:
        raise ValueError(f"an image must be (H, W, 4), not {image.shape}")
    image = np.clip(np.nan_to_num(image), 0, 1)
    planes = np.rint(np.moveaxis(image, 2, 0) * np.float32(65535)).astype(np.uint16)
    return planes[:3] if planes[3].min() == 65535 else premultiplied(planes[:3], planes[3])


def to_floats(planes: np.ndarray) -> np.ndarray:
    """A straight (H, W, 4) float32 image, 0..1, of planes."""
    colours, alpha = straight(planes)
    full = np.float32(full_of(planes))
    out = np.ones((*planes.shape[1:], 4), np.float32)
    out[..., :3] = np.moveaxis(colours, 0, 2) / full
    if alpha is not None:
        out[..., 3] = alpha / full
    return out
