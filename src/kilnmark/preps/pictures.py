"""What a prep page shows: the texture at any stage of its chain, and on trial."""

from dataclasses import dataclass

import numpy as np

from kilncore import engine
from kilncore.document import Piece as Document
from kilncore.document import load
from kilncore.engine.draft_textures import with_draft_textures
from kilncore.errors import KilnError
from kilncore.pixels.stored import full_of
from kilncore.prep.chain import draft_level
from kilncore.prep.texture_ref import TextureRef
from kilncore.system.opencv import cv2
from kilncore.textures.texture import Texture
from kilnmark.bench.pictures import strip_region as region_of
from kilnmark.storage import assets

MOST_SIDE = 1600
STOCK, INK = "#cdb893", "#1c3a57"
TRIAL_PX = (880, 400)
ENLARGED_AT_MOST = 4.0
WORDS = "BERTH"


@dataclass(frozen=True)
class Look:
    """way : 'fit', 'true' (at true pixels) or 'tiled' (three by three). x, y : of the middle of
    what is seen at true pixels, in shares.
    """

    way: str
    width: int
    height: int
    x: float = 0.5
    y: float = 0.5


def at_stage(ref: TextureRef, stage: int | None, exact: bool) -> Texture:
    """The texture after the first `stage` operations of its chain, all of them if None; a smaller
    copy unless it is to be exact, or is there already.
    """
    chain = ref.chain if stage is None else ref.chain[:stage]
    if exact or assets().has_ready(ref.hash, chain, ref.wraps):
        return assets().prepared(ref.hash, chain, 0, ref.wraps)
    width, height = assets().source(ref.hash).size
    level = draft_level(chain, width, height, 0.5, 1.0)
    return assets().prepared(ref.hash, chain, level, ref.wraps)


def drawn(texture: Texture, look: Look) -> np.ndarray:
    """(H, W, 3) uint8: what is looked at, on white."""
    if look.way == "true":
        return _bytes(_true(texture, look))
    if look.way == "tiled":
        one = _bytes(_fitted(texture, look.width // 3, look.height // 3))
        return np.tile(one, (3, 3, 1))
    return _bytes(_fitted(texture, look.width, look.height))


def _fitted(texture: Texture, width: int, height: int) -> np.ndarray:
    scale = min(width / texture.size[0], height / texture.size[1], ENLARGED_AT_MOST)
    size = max(1, round(texture.size[0] * scale)), max(1, round(texture.size[1] * scale))
    level = 0
    while texture.level(level).shape[2] > 2.5 * size[0]:
        level += 1
    planes = texture.level(level)
    way = cv2.INTER_AREA if planes.shape[2] > size[0] else cv2.INTER_LINEAR
    return np.stack([cv2.resize(plane, size, interpolation=way) for plane in planes])


def _true(texture: Texture, look: Look) -> np.ndarray:
    wide, tall = min(look.width, texture.size[0]), min(look.height, texture.size[1])
    left = round(min(max(look.x * texture.size[0] - wide / 2, 0), texture.size[0] - wide))
    top = round(min(max(look.y * texture.size[1] - tall / 2, 0), texture.size[1] - tall))
    _, height, width = texture.planes.shape
    shares = width / texture.size[0], height / texture.size[1]
    columns = slice(int(left * shares[0]), max(int((left + wide) * shares[0]), 1))
    rows = slice(int(top * shares[1]), max(int((top + tall) * shares[1]), 1))
    found = texture.planes[:, rows, columns]
    if found.shape[1:] == (tall, wide):
        return found
    return np.stack([cv2.resize(np.ascontiguousarray(one), (wide, tall)) for one in found])


def _bytes(planes: np.ndarray) -> np.ndarray:
    if len(planes) == 4:
        planes = planes[:3] + (full_of(planes) - planes[3])
    eight = planes if planes.dtype == np.uint8 else (planes // 257).astype(np.uint8)
    return np.ascontiguousarray(np.moveaxis(np.repeat(eight, 3 // len(eight), 0), 0, 2))


def trial(ref: TextureRef, kind: str, words: str, mm: float, ppi: float, art: dict | None):
    """A small piece: words, or an own artwork, of so many mm, worn or coated by the texture at the
    size it will have.
    """
    if kind not in ("wear", "coat"):
        raise KilnError("A texture is tried as a mask or as a coat.")
    width, height = TRIAL_PX
    lettering = {
        "kind": "lettering",
        "text": words.strip()[:40] or WORDS,
        "size": {"value": mm, "unit": "mm"},
        "colour": INK,
    }
    texture = ref.model_dump(mode="json")
    params = {"texture": texture} | ({"black": 0.2, "white": 0.8} if kind == "wear" else {})
    landing = {} if kind == "wear" else {"mode": "multiply", "strength": 0.9}
    middle = {"x": {"value": width / 2, "unit": "px"}, "y": {"value": height / 2, "unit": "px"}}
    step = {"kind": kind, "seed": 1, "params": params, **({"landing": landing} if landing else {})}
    tree = {
        "format": 8,
        "title": "Trial",
        "size_px": [width, height],
        "ppi": ppi,
        "ground": {"fill": {"kind": "colour", "colour": STOCK}},
        "stack": [
            {"kind": "mark", "art": art or lettering, "placement": middle, "treatment": [step]}
        ],
    }
    return load(tree)


def of_piece(document: Document, part: str, exact: bool, width: int, height: int) -> np.ndarray:
    """A piece around one of its parts, no larger than width x height px."""
    region = region_of(document, part) if part else None
    size = region[2:] if region else document.size_px
    scale = min(1.0, width / size[0], height / size[1])
    shown = document if exact else with_draft_textures(document, assets())
    return engine.pixels(shown, region, scale, assets(), truly=exact)


def source_png(texture: Texture, wide: int) -> np.ndarray:
    """Planes of a texture small enough to paint on."""
    return _fitted(texture, wide, wide)
