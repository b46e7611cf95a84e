"""What a maker's page shows: a texture with the settings as they stand, small, or on a mark; and
the wall of all makers.
"""

import threading
from pathlib import Path

import numpy as np

from kilncore import engine
from kilncore.assets import Unsaved
from kilncore.document import Piece as Document
from kilncore.document import dump, load
from kilncore.model.base import Model
from kilncore.prep.texture_ref import TextureRef
from kilncore.system.code_version import code_version
from kilncore.system.files import write_whole
from kilncore.system.opencv import cv2
from kilncore.textures import makers
from kilncore.textures.examining import jpeg
from kilncore.textures.makers import MAKERS, Maps
from kilncore.textures.makers.base import finer
from kilnmark.bench.pictures import strip_region
from kilnmark.storage import assets, folder_for

TRIAL_PX, ON_MARK_PX = 512, (640, 400)
MOST_DRAWN = 1_100_000  # px of a trial, as fine as it is drawn
ON_PIECE_PX, SHOWN_PX = 1024, (640, 400)
CARD_PX, CARD_SHOWN = (584, 312), 292
CARD_SEED = 7
AT_ONCE = threading.BoundedSemaphore(2)  # each is work for a moment
MADE_BY = code_version(Path(makers.__file__).parent)
STOCK, INK, GREY = "#cdb893", "#1c3a57", "#9a9184"
WORDS, WORDS_PX = "BERTH", 150


def trial(name: str, settings: Model, told: dict, drawings: dict[str, bytes]) -> bytes:
    """JPEG. told : as a TrialForm says it. drawings : that the settings name."""
    ppi, on = told["ppi"] or 300, told["on"]
    size = ON_MARK_PX if on else _size(told, TRIAL_PX)
    with AT_ONCE:
        more = {"ppi": ppi, "drawings": drawings}
        made = makers.maps(name, *size, told["seed"], settings, **more)
        if on:
            return jpeg(_on_mark(name, made, on, ppi))
        wanted = told["map"] or "colour"
        return jpeg(_smaller(made.named(wanted), told["shown"] or max(size)))


def _size(told: dict, side: int) -> tuple[int, int]:
    """That is asked for, or as much of it as is drawn while somebody waits."""
    width, height = told["width"] or side, told["height"] or side
    drawn = width * height * finer(told["ppi"] or 300) ** 2
    share = min(1.0, (MOST_DRAWN / drawn) ** 0.5)
    return max(64, int(width * share)), max(64, int(height * share))


def card(name: str) -> bytes:
    """A maker's picture on the wall, at half size; kept until makers draw other pixels."""
    path = folder_for("makers") / f"{name}-{MADE_BY}.jpg"
    if not path.exists():
        with AT_ONCE:
            made = makers.make(name, *CARD_PX, CARD_SEED)
        for older in path.parent.glob(f"{name}-*.jpg"):
            older.unlink(missing_ok=True)
        write_whole(path, jpeg(_smaller(made, CARD_SHOWN)))
    return path.read_bytes()


def _smaller(planes: np.ndarray, longest: int) -> np.ndarray:
    _, height, width = planes.shape
    scale = longest / max(width, height)
    if scale >= 1:
        return planes
    size = max(1, round(width * scale)), max(1, round(height * scale))
    return np.stack([cv2.resize(one, size, interpolation=cv2.INTER_AREA) for one in planes])


def on_piece(
    name: str,
    settings: Model,
    told: dict,
    drawings: dict[str, bytes],
    piece: Document,
    old: dict[str, str],
) -> bytes:
    """JPEG: the part of a piece that is told of, with textures that are made anew in the place of
    those that are there. old : hashes, by the map that each is.
    """
    size = _size(told, ON_PIECE_PX)
    with AT_ONCE:
        more = {"ppi": told["ppi"] or 300, "drawings": drawings}
        made = makers.maps(name, *size, told["seed"], settings, **more)
        store, text = Unsaved(assets()), dump(piece)
        for one, hash_ in old.items():
            text = text.replace(hash_, store.keep_texture(made.named(one)))
        document = load(text)
        region = strip_region(document, told["part"])
        scale = min(1.0, SHOWN_PX[0] / region[2], SHOWN_PX[1] / region[3])
        return jpeg(_planes(engine.pixels(document, region, scale, store)))


def _on_mark(name: str, made: Maps, on: str, ppi: int) -> np.ndarray:
    """(3, H, W) uint8: lettering that is worn or coated by it, or follows it."""
    best = {"wear": made.worn, "follow": made.height}.get(on)
    store = Unsaved(assets())
    ref = TextureRef(hash=store.keep_texture(made.colour if best is None else best))
    document = load(_document(ref, on, MAKERS[name].good_for, ppi))
    return _planes(engine.pixels(document, None, 1.0, store, truly=True))


def _planes(drawn: np.ndarray) -> np.ndarray:
    return np.ascontiguousarray(np.moveaxis(drawn[..., :3], 2, 0))


def _document(ref: TextureRef, on: str, good_for: str, ppi: int) -> dict:
    width, height = ON_MARK_PX
    texture = ref.model_dump(mode="json")
    step: dict = {"kind": on, "seed": 1, "params": {"texture": texture}}
    if on == "wear":
        step["params"] |= {"black": 0.2, "white": 0.8}
    elif on == "follow":
        shift = {"value": 14, "unit": "px"}
        step["params"] |= {"map": "texture", "across": shift, "down": shift}
    else:
        mode = "soft-light" if "soft light" in good_for else "multiply"
        step["landing"] = {"mode": mode, "strength": 1.0 if mode == "soft-light" else 0.9}
    lettering = {
        "kind": "lettering",
        "text": WORDS,
        "size": {"value": WORDS_PX, "unit": "px"},
        "colour": INK if on != "coat" else GREY,
    }
    middle = {"x": {"value": width / 2, "unit": "px"}, "y": {"value": height / 2, "unit": "px"}}
    mark = {"kind": "mark", "art": lettering, "placement": middle, "treatment": [step]}
    return {
        "format": 8,
        "title": "Trial",
        "size_px": [width, height],
        "ppi": ppi,
        "ground": {"fill": {"kind": "colour", "colour": STOCK}},
        "stack": [mark],
    }
