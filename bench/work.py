"""The work that is measured: one realistic composite of twelve steps.

A photo-like ground; lettering that is worn through a luminance mask, follows the surface, is
softened, coated three ways (one through a blend range), worn again and grained, and lands
multiplied; then the whole piece is coated, tinted by a non-separable mode, softened a little and
grained.
"""

import numpy as np

from kilncore import edits
from kilncore.assets import AssetStore
from kilncore.document import Piece, load
from kilncore.pixels.vips import as_image
from kilncore.textures import makers

TEXTURE_PX = 1024
SIZES = {"1280 x 800": (1280, 800), "A3 at 300 ppi": (3508, 4961)}
WEAR, SECOND_WEAR = (0.25, 0.7), (0.1, 0.5)  # black and white points
FOLLOW_PX, SMOOTH_PX, SOFT_PX, LAST_SOFT_PX = 8.0, 2.0, 1.5, 0.6
GATE = (0.1, 0.3, 0.8, 0.95)
COLOUR = "#e8d9b5"


USED = ("planks", "concrete", "paper", "grunge")


def store_with_textures(folder) -> tuple[AssetStore, dict[str, str]]:
    """An asset store with the textures that it uses: (store, name -> hash)."""
    store = AssetStore(folder)
    return store, {name: _made(store, name) for name in USED}


def _made(store, name: str) -> str:
    planes = makers.make(name, TEXTURE_PX, TEXTURE_PX, 1)
    return store.keep(as_image(np.moveaxis(planes, 0, 2)).pngsave_buffer(compression=1))


def px(value):
    return {"value": value, "unit": "px"}


def step(kind, mode="normal", strength=1.0, landing=(), **params):
    return {
        "kind": kind,
        "params": params,
        "landing": {"mode": mode, "strength": strength, **dict(landing)},
    }


def composite(size, hashes, placement=None, text="PELLWICK\nNIGHT FERRY") -> Piece:
    """The composite at that size; textures at their own pixels unless they are placed."""
    width, height = size
    place = {"placement": placement} if placement else {}

    def texture(name):
        return {"texture": {"hash": hashes[name], "edges": "repeat"}, **place}

    blend_range = dict(
        zip(("hidden_below", "shown_from", "shown_to", "hidden_above"), GATE, strict=True)
    )
    treatment = [
        step("wear", **texture("grunge"), black=WEAR[0], white=WEAR[1]),
        step("follow", across=px(FOLLOW_PX), down=px(FOLLOW_PX), smooth=px(SMOOTH_PX)),
        step("soften", radius=px(SOFT_PX)),
        step("coat", "soft-light", 0.8, **texture("concrete")),
        step("coat", "multiply", 0.7, {"range_beneath": blend_range}, **texture("planks")),
        step(
            "wear",
            strength=0.3,
            **texture("paper"),
            black=SECOND_WEAR[0],
            white=SECOND_WEAR[1],
            invert=True,
        ),
        step("coat", "overlay", 0.6, **texture("grunge")),
        step("grain", "overlay", 1.0, amount=15),
    ]
    whole = [
        step("coat", "overlay", 0.4, **texture("paper"), keep_to_art=False),
        step("coat", "color", 0.3, **texture("planks"), keep_to_art=False),
        step("soften", radius=px(LAST_SOFT_PX)),
        step("grain", "overlay", 1.0, amount=10),
    ]
    art = {
        "kind": "lettering",
        "text": text,
        "font": "alfa-slab-one",
        "size": px(width * 0.155),
        "colour": COLOUR,
    }
    mark = {
        "kind": "mark",
        "art": art,
        "placement": {"x": px(width / 2), "y": px(height / 2)},
        "treatment": treatment,
        "landing": {"mode": "multiply", "strength": 0.9},
    }
    ground = {
        "fill": {"kind": "texture", "texture": {"hash": hashes["concrete"], "edges": "repeat"}}
    }
    return load(
        {"format": 2, "size_px": list(size), "ground": ground, "stack": [mark], "treatment": whole}
    )


def changed(piece: Piece, late: bool):
    """The piece with one number changed a little more each time: of its first step, or of its
    last.
    """
    mark = piece.stack[0]
    path, name, start, by = (
        (["treatment", piece.treatment[-1].id], "amount", 10, 1e-2)
        if late
        else (["stack", mark.id, "treatment", mark.treatment[0].id], "black", 0.2, 1e-4)
    )
    n = 0
    while True:
        n += 1
        yield edits.apply(
            piece, [{"op": "set", "path": [*path, "params", name], "value": start + by * n}]
        )


def dragged(piece: Piece):
    n = 0
    while True:
        n += 1
        path = ["stack", piece.stack[0].id, "placement", "x"]
        yield edits.apply(
            piece, [{"op": "set", "path": path, "value": px(piece.size_px[0] / 2 + 1.7 * n)}]
        )
