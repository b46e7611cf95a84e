"""The same twelve steps in plain NumPy: float32, whole frames of straight RGBA, the standard's
formulas as they stand.
"""

import numpy as np

from bench import work

LUMA = np.array([0.2126, 0.7152, 0.0722], np.float32)


def composite(art, textures):
    """art : (H, W) alpha of the lettering. textures : name -> (H, W, C) float32 of the piece's
    size. Returns uint8.
    """
    rng = np.random.default_rng(1)
    ground = textures["concrete"]
    colour = np.array([int(work.COLOUR[i : i + 2], 16) for i in (1, 3, 5)], np.float32) / 255
    alpha = art * _levels(_luma(textures["grunge"]), *work.WEAR)
    relief = _blur(_luma(ground)[..., None], work.SMOOTH_PX)[..., 0]
    alpha = _displaced(alpha, (relief - relief.mean()) * work.FOLLOW_PX)
    alpha = _blur(alpha[..., None], work.SOFT_PX)[..., 0]
    mark = np.dstack([np.broadcast_to(colour, ground.shape), alpha])
    mark = _atop(mark, textures["concrete"], _soft_light, 0.8)
    mark = _atop(
        mark, textures["planks"], _multiply, 0.7 * _trapezoid(_luma(ground), *work.GATE)[..., None]
    )
    mark[..., 3] *= 1 - 0.3 * _levels(_luma(textures["paper"]), *work.SECOND_WEAR)
    mark = _atop(mark, textures["grunge"], _overlay, 0.6)
    mark = _atop(mark, _grain(rng, alpha.shape, 0.15), _overlay, 1.0)
    out = np.dstack([ground, np.ones(alpha.shape, np.float32)])
    out = _over(out, mark[..., :3], _multiply, 0.9 * mark[..., 3:])
    out = _over(out, textures["paper"], _overlay, 0.4)
    out = _over(out, textures["planks"], _colour, 0.3)
    out = _blur(out, work.LAST_SOFT_PX)
    out = _over(out, _grain(rng, alpha.shape, 0.1), _overlay, 1.0)
    return np.rint(np.clip(out[..., :3], 0, 1) * 255).astype(np.uint8)


def _over(backdrop, source, blend, weight):
    """W3C: co = cs as + cb ab (1 - as) with cs = (1 - ab) cs + ab B(cb, cs), and back to straight
    colour.
    """
    cb, ab = backdrop[..., :3], backdrop[..., 3:]
    cs = (1 - ab) * source + ab * blend(cb, source)
    alpha = weight + ab * (1 - weight)
    colour = weight * cs + (1 - weight) * ab * cb
    return np.concatenate([colour / np.maximum(alpha, 1e-6), np.broadcast_to(alpha, ab.shape)], -1)


def _atop(backdrop, source, blend, weight):
    """The same kept to the art: alpha stays."""
    cb, ab = backdrop[..., :3], backdrop[..., 3:]
    cs = (1 - ab) * source + ab * blend(cb, source)
    return np.concatenate([(1 - weight) * cb + weight * cs, ab], -1)


def _multiply(b, s):
    return b * s


def _luma(picture):
    return picture[..., 0] if picture.shape[2] == 1 else picture @ LUMA


def _levels(values, black, white):
    return np.clip((values - black) / (white - black), 0, 1)


def _trapezoid(values, a, b, c, d):
    return np.clip((values - a) / (b - a), 0, 1) * np.clip((d - values) / (d - c), 0, 1)


def _soft_light(b, s):
    d = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))
    return np.where(s <= 0.5, b - (1 - 2 * s) * b * (1 - b), b + (2 * s - 1) * (d - b))


def _overlay(b, s):
    return np.where(b <= 0.5, 2 * b * s, b + s - b * s + (b - 1) * (1 - s))


def _colour(b, s):
    weights = np.array([0.3, 0.59, 0.11], np.float32)
    c = s + ((b @ weights) - (s @ weights))[..., None]
    level = (c @ weights)[..., None]
    low, high = c.min(-1, keepdims=True), c.max(-1, keepdims=True)
    c = np.where(low < 0, level + (c - level) * level / np.maximum(level - low, 1e-6), c)
    return np.where(high > 1, level + (c - level) * (1 - level) / np.maximum(high - level, 1e-6), c)


def _blur(picture, sigma):
    r = int(np.ceil(4 * sigma))
    weights = np.exp(-0.5 * (np.arange(-r, r + 1) / sigma) ** 2).astype(np.float32)
    weights /= weights.sum()
    padded = np.pad(picture, ((r, r), (r, r), (0, 0)), mode="edge")
    down = sum(w * padded[k : k + picture.shape[0]] for k, w in enumerate(weights))
    return sum(w * down[:, k : k + picture.shape[1]] for k, w in enumerate(weights))


def _displaced(plane, shift):
    """Cubic convolution (Keys), 4 x 4 neighbours by fancy indexing."""
    height, width = plane.shape
    y, x = np.mgrid[:height, :width].astype(np.float32)
    x, y = x + shift, y + shift
    i, j = np.floor(x).astype(np.int32), np.floor(y).astype(np.int32)
    wx, wy = _cubic(x - i), _cubic(y - j)
    out = np.zeros_like(plane)
    for n in range(4):
        rows = np.clip(j + n - 1, 0, height - 1)
        out += wy[n] * sum(wx[m] * plane[rows, np.clip(i + m - 1, 0, width - 1)] for m in range(4))
    return out


def _cubic(t):
    t2, t3 = t * t, t * t * t
    return t2 - (t + t3) / 2, 1.5 * t3 - 2.5 * t2 + 1, 2 * t2 - 1.5 * t3 + t / 2, (t3 - t2) / 2


def _grain(rng, shape, amount):
    noise = rng.standard_normal(shape, np.float32)[..., None]
    return np.clip(0.5 + amount * noise, 0, 1)
