"""Compile every kernel, or load it from the disk cache, before anyone waits for it.

A small piece that uses each step on each kind of texture goes through the whole engine, and so do
the public functions. What a first picture needs comes first; READY is set when all is done.
"""

import gc
import threading
import time
from typing import Any

import numpy as np

from kilncore import blend, blur, engine, morphology, noise, sampling
from kilncore.artwork.lettering import Lettering
from kilncore.compiled import kernel_cache
from kilncore.document import Ground, Mark, Piece, Placement, Step
from kilncore.fills.texture import TextureFill
from kilncore.landing import BlendRange, Fade, Landing
from kilncore.landing.limits.colour import ColourLimit
from kilncore.landing.limits.mark import MarkLimit
from kilncore.landing.limits.region import RegionLimit
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import px
from kilncore.output.preview import encode
from kilncore.pixels.distance import signed_distance
from kilncore.prep import OPERATIONS
from kilncore.prep.base import Copy
from kilncore.prep.clean import Clean, Patch
from kilncore.prep.knock_out import knocked_out
from kilncore.prep.texture_ref import TextureRef
from kilncore.prep.tone_counts import tone_counts
from kilncore.steps import STEPS
from kilncore.strokes import Stroke, file_of, strokes_in
from kilncore.system.cache import ByteCache
from kilncore.textures import makers
from kilncore.textures.endless import endless
from kilncore.textures.texture import Texture

READY = threading.Event()
NAMES = "abc"


class _Textures:
    """Grey, colour, and grey of 16 bits."""

    def __init__(self):
        rng = np.random.default_rng(1)
        grey, colour = rng.integers(0, 255, (1, 64, 64)), rng.integers(0, 255, (3, 64, 64))
        deep = (grey * 257).astype(np.uint16)
        every: tuple[np.ndarray, ...] = (grey, colour, deep)
        self.known = {name * 64: Texture(planes) for name, planes in zip(NAMES, every, strict=True)}

    def texture(self, ref: TextureRef) -> Texture:
        return self.known[ref.hash]

    def strokes(self, name: str):
        return strokes_in(file_of(Stroke(points=((0, 0),), radius=0.1)))


def warm_up(makers_too: bool = False) -> float:
    """Seconds it took: about a minute the first time, two or three seconds afterwards.

    makers_too : also what makers are built of; once compiled, that loads when it is asked for.
    """
    begun = time.monotonic()
    _pictures()
    _functions()
    if makers_too:
        for name in makers.MAKERS:
            makers.make(name, 64, 64, 1)
    kernel_cache.clear_old()
    # what is loaded by now stays: looking through it again and again would hold up pictures
    gc.freeze()
    READY.set()
    return time.monotonic() - begun


def _pictures() -> None:
    textures: Any = _Textures()
    for turn, scale in ((0, 1.0), (0, 0.4), (0, 1.6), (10, 1.0), (10, 0.4)):
        piece = _piece(TexturePlacement(rotation_deg=turn))
        encode(engine.pixels(piece, None, scale, textures, cache=ByteCache()), lossless=scale == 1)
    encode(
        engine.pixels(piece, None, 0.5, textures, truly=True, cache=ByteCache(), with_ground=False),
        lossless=False,
    )


def _functions() -> None:
    image = np.full((8, 8, 4), 0.5, np.float32)
    for mode in blend.BLEND_MODES:
        blend.composite(image, image, mode)
    for how in sampling.INTERPOLATIONS:
        sampling.displace(image, image, 2, 2, interpolation=how)
    for sigma in (1, 20):
        blur.gaussian(image, sigma)
    morphology.morphology(image, 1)
    signed_distance(image[..., 0], 4.0)
    noise.turbulence(8, 8, 0.1, 1, 1)
    endless(image, 8, 8)
    _prepared()


def _prepared() -> None:
    """Each operation on pixels of 8 and of 16 bits, and a picture as a mark."""
    planes = np.full((3, 90, 90), 255, np.uint8)
    planes[:, 12:28, 12:28] = 40
    for given in (planes, planes * np.uint16(257)):
        for kind in OPERATIONS.values():
            made = kind.settings()
            counts = tone_counts(given) if made.reads_tones else None
            (made if counts is None else made.solved(counts)).prepared(given, Copy())
        knocked_out(given, np.ones((1, 3)), 0.1, True, 1.0, 1.0, True)
        Clean(patches=(Patch(points=((0.2, 0.2),), width=0.1),)).prepared(given[:1], Copy())


def _piece(place: TexturePlacement) -> Piece:
    """Each step on each texture, landed by all that a landing has."""
    everything = Landing(
        mode="multiply",
        strength=0.5,
        ranges=(BlendRange(of="own"), BlendRange(of="beneath")),
        limits=(MarkLimit(mark="kiln"), ColourLimit(colour="#20262a"), _region()),
        fade=Fade(x0=px(0), y0=px(0), x1=px(9), y1=px(0)),
        touch=("f" * 64,),
    )
    steps = [
        Step(kind=kind.kind, params=_params(kind, name, place), landing=Landing(strength=0.5))
        for kind in STEPS.values()
        for name in NAMES
    ]
    last = Step(kind="coat", params=_params(STEPS["coat"], "b", place), landing=everything)
    grained = Step(kind="grain", params=STEPS["grain"].settings(size=px(3)))
    smeared = [
        Step(kind="soften", params=STEPS["soften"].settings(way=way)) for way in ("along", "out")
    ]
    art = Lettering(text="Kiln", size=px(40))
    mark = Mark(
        id="kiln",
        art=art,
        placement=Placement(x=px(64), y=px(48)),
        treatment=(*steps, grained, *smeared, last),
    )
    ground = Ground(fill=TextureFill(texture=TextureRef(hash="b" * 64), placement=place))
    return Piece(size_px=(128, 96), ground=ground, stack=(mark,))


def _region() -> RegionLimit:
    loop = ((0.0, 0.0), (1.0, 0.0), (0.5, 1.0))
    place = {"x": px(60), "y": px(40), "width": px(60), "height": px(60)}
    return RegionLimit(shape="outline", outline=(loop,), **place)


def _params(kind: Any, name: str, place: TexturePlacement):
    given = {"texture": TextureRef(hash=name * 64), "placement": place}
    return kind.settings(
        **{key: value for key, value in given.items() if key in kind.settings.model_fields}
    )
