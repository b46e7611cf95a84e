"""Compile every kernel, or load it from the disk cache, before anyone waits for it.

A small piece that uses each step on each kind of texture goes through the whole engine, and so do the public functions.
"""

import time

import numpy as np

from kilncore import blend, blur, engine, morphology, noise, sampling
from kilncore.artwork.lettering import Lettering
from kilncore.document import Ground, Mark, Piece, Placement, Step, TextureFill
from kilncore.engine.cache import TileCache
from kilncore.landing import Landing
from kilncore.parts import TexturePlacement, TextureRef
from kilncore.steps import STEP_KINDS
from kilncore.textures import makers
from kilncore.textures.texture import Texture
from kilncore.units import px


class _Textures:
    """Grey for one hash, colour for the other."""

    def __init__(self):
        rng = np.random.default_rng(1)
        self.known = {"a" * 64: Texture(rng.integers(0, 255, (1, 64, 64))), "b" * 64: Texture(rng.integers(0, 255, (3, 64, 64)))}

    def texture(self, name: str) -> Texture:
        return self.known[name]


def warm_up() -> float:
    """Seconds it took: about a minute the first time, one second afterwards."""
    begun = time.monotonic()
    piece, textures = _piece(), _Textures()
    for scale in (1.0, 0.6):
        engine.render(piece, None, scale, textures, cache=TileCache())
    engine.exact(piece, None, 0.5, textures, cache=TileCache())
    image = np.full((8, 8, 4), 0.5, np.float32)
    for mode in blend.BLEND_MODES:
        blend.composite(image, image, mode)
    sampling.displace(image, image, 2, 2)
    blur.gaussian(image, 1)
    blur.gaussian(image, 20)
    morphology.morphology(image, 1)
    noise.turbulence(8, 8, 0.1, 1, 1)
    for name in makers.MAKERS:
        makers.make(name, 64, 64, 1)
    return time.monotonic() - begun


def _piece() -> Piece:
    turned, upright = TexturePlacement(rotation_deg=10, scale=0.7), TexturePlacement(scale=0.7)
    steps = []
    for kind in STEP_KINDS.values():
        for name in "ab":
            place = turned if name == "a" else upright
            given = {"texture": TextureRef(hash=name * 64), "placement": place}
            given = {key: value for key, value in given.items() if key in kind.params.model_fields}
            steps.append(Step(kind=kind.kind, params=kind.params(**given), landing=Landing(strength=0.5)))
    art = Lettering(text="Kiln", size=px(40))
    mark = Mark(art=art, placement=Placement(x=px(64), y=px(48)), treatment=tuple(steps))
    ground = Ground(fill=TextureFill(texture=TextureRef(hash="b" * 64), placement=turned))
    return Piece(size_px=(128, 96), ground=ground, stack=(mark,))
