"""Random legal documents over all that a document can hold, with the files that they name."""

import numpy as np
from hypothesis import strategies as st
from pydantic import ValidationError
from tests.pictures import png

from fuzz.arts import drawing, gradient, picture, picture_ground
from fuzz.fills import along, fill, light, lines
from fuzz.preps import chain
from kilncore.artwork.intake import brought_in
from kilncore.blending.modes import BLEND_MODES
from kilncore.document import load
from kilncore.landing.model import READS
from kilncore.model.files import StrokesHash
from kilncore.model.perspective import Corners
from kilncore.model.region import Region
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length
from kilncore.prep.texture_ref import TextureRef
from kilncore.shapes.forms import FORMS
from kilncore.steps import STEPS
from kilncore.strokes import PACK, Stroke, file_of, pack_of
from kilncore.strokes.tip import SHIPPED
from kilncore.svg.sanitising import sanitise
from kilncore.wear.settings import Points

MOST_PIXELS = 1_500_000  # of a piece, so that ten minutes draw hundreds
SVGS = (
    '<circle cx="50" cy="50" r="48" fill="#a03"/><path d="M0 0L90 40 20 80z" fill="#fc0" '
    'opacity=".5"/>',
    '<g stroke="#036" stroke-width="6" fill="none"><path vector-effect="non-scaling-stroke" '
    'd="M5 5C40 90 60 10 95 95"/></g>',
)
WORDS = (
    *("Gull", "NIGHT\nFERRY", "i", "", "Tea & rope", "Æ“”", "Supper\n12"),
    *("מעבורת 417 (x)", "عبارة 12", "e\u0301🚢\u202e\u2066a", "\x07" * 9),
)
AXES = ({}, {}, {"wght": 420.0, "SOFT": 99.0}, {"opsz": -1e9, "none": 3.0})
FONTS = ("alfa-slab-one", "anton", "lobster", "mr-dafoe", "fraunces", "rubik-bold")


class Files:
    """What documents may name, in an asset store."""

    def __init__(self, store):
        rng = np.random.default_rng(5)
        self.textures = [
            store.keep(png(pixels))
            for pixels in (
                rng.integers(0, 256, (96, 128, 3), dtype=np.uint8),
                rng.integers(0, 256, (65, 33), dtype=np.uint8),
                np.dstack(
                    [rng.integers(0, 256, (40, 52, 3)), rng.integers(0, 2, (40, 52)) * 255]
                ).astype(np.uint8),
                rng.integers(0, 65536, (48, 64), dtype=np.uint16),
                np.full((16, 16), 255, np.uint8),
                rng.integers(0, 256, (700, 900), dtype=np.uint8),
            )
        ]
        self.vectors = []
        for body in SVGS:
            safe = sanitise(
                f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100">{body}</svg>'.encode()  # noqa: E501
            )
            self.vectors.append(
                {
                    "kind": "vector",
                    "hash": store.keep(safe.data),
                    "width": safe.width,
                    "height": safe.height,
                }
            )
        self.pictures = [_picture(store, data) for data in _badges(rng)]
        files = [
            file_of(
                Stroke(
                    points=rng.normal(0, 0.5, (n, 2)).tolist(),
                    radius=0.02 * n,
                    back=n % 2 == 0,
                    hardness=n / 9,
                )
            )
            for n in range(1, 9)
        ]
        files += [
            file_of(
                Stroke(
                    points=rng.normal(0, 0.5, (3 * n + 1, 2)).tolist(),
                    pressures=rng.random(3 * n + 1).tolist() if n % 2 else (),
                    radius=10.0 ** (n / 2 - 4),
                    tip=tip,
                    gap=0.02 + n / 9,
                    turns=n / 10,
                    sizes=1 - n / 10,
                    strays=n / 10,
                    thins=n / 10,
                    follows=n % 3 == 0,
                    flips=True,
                    back=n % 4 == 0,
                    seed=n,
                    curved=n % 5 == 1,
                    closed=n % 3 == 1,
                    taper_in=n / 20,
                    taper_out=(n % 4) / 5,
                    ends="flat" if n % 2 else "round",
                    id=n,
                )
            )
            for n, tip in enumerate(("", *SHIPPED))
        ]
        self.strokes = [store.keep(data) for data in (*files, pack_of((files * PACK)[:PACK]))]


def _badges(rng) -> list[bytes]:
    """Art on paper: noisy, see-through, deep, tiny."""
    badge = np.full((150, 200, 3), 255, np.uint8)
    badge[30:120, 40:160], badge[60:90, 80:120] = (192, 48, 32), 255
    noisy = np.clip(badge - rng.integers(0, 12, badge.shape), 0, 255).astype(np.uint8)
    clear = np.dstack([badge, rng.integers(0, 256, badge.shape[:2], dtype=np.uint8)])
    deep = rng.integers(0, 65536, (40, 30), dtype=np.uint16)
    return [png(pixels) for pixels in (badge, noisy, clear, deep, badge[:17, :16])]


def _picture(store, data: bytes) -> dict:
    found = brought_in(data)
    size = {"width": int(found.width), "height": int(found.height)}
    return {"kind": "picture", "hash": store.keep(data), **size}


def length(least=-300.0, most=300.0):
    return st.builds(
        lambda value, unit: {"value": value if unit == "px" else value / 4, "unit": unit},
        st.floats(least, most),
        st.sampled_from(["px", "px", "px", "mm", "%"]),
    )


corner = st.floats(-1, 2) | st.sampled_from([0.0, 0.5, 1.0])
share = st.floats(0, 1) | st.sampled_from([0.0, 0.5, 1.0])
turn = st.sampled_from([0, 0, 90, 180, -90]) | st.floats(-360, 360)
colour = st.sampled_from(["#000000", "#ffffff", "#c03020", "#808080", "#14646b"])
POINTS = ("hidden_below", "shown_from", "shown_to", "hidden_above")
blend_range = st.builds(
    lambda points, of, reads, outside: {
        **dict(zip(POINTS, sorted(points), strict=True)),
        "of": of,
        "reads": reads,
        "outside": outside,
    },
    st.lists(share, min_size=4, max_size=4),
    st.sampled_from(["own", "input", "beneath"]),
    st.sampled_from([name for name, _ in READS]),
    st.booleans(),
)


def texture(files):
    return st.builds(
        lambda name, edges, operations: {"hash": name, "edges": edges, "chain": operations},
        st.sampled_from(files.textures),
        st.sampled_from(["repeat", "mirror", "none"]),
        chain,
    )


texture_place = st.builds(
    dict,
    x=length(),
    y=length(),
    scale=st.sampled_from([0.02, 0.3, 1, 1, 1, 2.26, 50]) | st.floats(0.1, 4),
    rotation_deg=turn,
    flip_x=st.booleans(),
    flip_y=st.booleans(),
)


def _plane(moved):
    """Corners of a box that were dragged; flat where they would not do."""
    flat = ((-150, -80), (150, -80), (150, 80), (-150, 80))
    corners = [(x + dx, y + dy) for (x, y), (dx, dy) in zip(flat, moved, strict=True)]
    told = {"kind": "corners", "width": 300, "height": 160, "corners": corners}
    try:
        Corners.model_validate(told)
    except (ValidationError, np.linalg.LinAlgError):
        return None
    return told


def perspective():
    """Flat, by four corners however steep, or round any cylinder."""
    far = st.tuples(st.floats(-200, 200), st.floats(-150, 150))
    near = st.tuples(st.floats(-60, 60), st.floats(-40, 40))
    planes = st.one_of(st.tuples(*[one] * 4) for one in (near, far))
    rounds = st.builds(
        dict,
        kind=st.just("round"),
        radius=length(-100, 2000),
        axis=length(-200, 200),
        round_deg=st.floats(-89, 89),
        tilt_deg=st.floats(-80, 80),
        axis_deg=turn,
    )
    return st.none() | st.none() | planes.map(_plane) | rounds


def limit(marks):
    region = st.builds(
        dict,
        kind=st.just("region"),
        shape=st.sampled_from(["rectangle", "ellipse", "outline"]),
        outline=st.lists(
            st.lists(st.tuples(corner, corner).map(list), min_size=3, max_size=9),
            min_size=1,
            max_size=3,
        ),
        x=length(),
        y=length(),
        width=length(0, 900),
        height=length(0, 900),
        rotation_deg=turn,
        outside=st.booleans(),
        feather=length(0, 90),
    )
    hue = st.builds(
        dict,
        kind=st.just("colour"),
        colour=colour,
        tolerance=share,
        softness=share,
        outside=st.booleans(),
    )
    held = st.builds(
        dict,
        kind=st.just("mark"),
        mark=st.sampled_from(marks),
        outside=st.booleans(),
        feather=length(0, 60),
    )
    return region | hue | held


@st.composite
def landing(draw, files, marks, most=3.0):
    found = {
        "mode": draw(st.sampled_from(["normal", *BLEND_MODES])),
        "strength": draw(st.sampled_from([1.0, min(1.6, most), most]) | st.floats(0, most)),
    }
    if draw(st.integers(0, 2)) == 0:
        found["ranges"] = draw(st.lists(blend_range, min_size=1, max_size=3))
    if draw(st.integers(0, 3)) == 0:
        found["limits"] = draw(st.lists(limit(marks), max_size=2))
    if draw(st.integers(0, 6)) == 0:
        found["fade"] = draw(
            st.builds(
                dict,
                shape=st.sampled_from(["straight", "round", "sweep"]),
                x0=length(),
                y0=length(),
                x1=length(),
                y1=length(),
                start=share,
                end=share,
            )
        )
    if draw(st.integers(0, 4)) == 0:
        found["touch"] = draw(st.lists(st.sampled_from(files.strokes), max_size=4))
    return found


region = st.builds(
    dict,
    shape=st.sampled_from(["ellipse", "rectangle"]),
    x=length(-300, 300),
    y=length(-300, 300),
    width=length(-5, 400),
    height=length(0, 400),
    rotation_deg=turn,
    feather=length(-3, 60),
)


def _points(black, more):
    return {"black": black, "white": black + more}


def _value(files, field):
    """Values of a parameter, by its type and bounds."""
    kinds, extra = str(field.annotation), field.json_schema_extra or {}
    if TextureRef.__name__ in kinds:
        return st.none() | texture(files) | texture(files)
    if StrokesHash.__name__ in kinds:
        return st.lists(st.sampled_from(files.strokes), max_size=4)
    if TexturePlacement.__name__ in kinds:
        return texture_place
    if Region.__name__ in kinds:
        return st.none() | region
    if Points.__name__ in kinds:
        return st.none() | st.builds(_points, st.floats(-1, 1), st.floats(0, 1))
    if Length.__name__ in kinds:
        low, high = extra.get("soft") or (-20, 20)
        return length(low, high) | length(low, 3 * high)
    if extra.get("choices"):
        return st.sampled_from([value for value, _ in extra["choices"]])
    if extra.get("control") == "colour":
        return colour
    if "bool" in kinds:
        return st.booleans()
    bounds = {
        name: getattr(rule, name)
        for rule in field.metadata
        for name in ("ge", "le")
        if hasattr(rule, name)
    }
    return st.floats(bounds.get("ge", -100), bounds.get("le", 100))


@st.composite
def step(draw, files, marks, part):
    kind = STEPS[
        draw(st.sampled_from([name for name, kind in STEPS.items() if part in kind.offered_for]))
    ]
    params = {
        name: draw(_value(files, field)) for name, field in kind.settings.model_fields.items()
    }
    for low, high in (("black", "white"), ("lift", "lower")):
        if {low, high} <= set(params):
            params[low], params[high] = sorted((params[low], params[high]))
    takes_away = kind.results(kind.settings.model_construct(**params)) == ("cover",)
    return {
        "kind": kind.kind,
        "on": draw(st.integers(0, 9)) > 0,
        "params": params,
        "seed": draw(st.integers(0, 99)),
        "landing": draw(landing(files, marks, 1.0 if takes_away else 3.0)),
    }


def treatment(files, marks, part, most=4):
    return st.lists(step(files, marks, part), max_size=most)


@st.composite
def mark(draw, files, item_id, marks, size, within=False):
    words = st.builds(
        dict,
        kind=st.just("lettering"),
        text=st.sampled_from(WORDS),
        font=st.sampled_from(FONTS),
        size=length(8, 500),
        colour=colour,
        tracking=st.sampled_from([0, 40, -200, 2000]),
        kerning=st.booleans(),
        case=st.sampled_from(["typed", "capitals", "small"]),
        axes=st.sampled_from(AXES),
        fill=fill(texture(files), texture_place),
        along=along(),
        lines=lines(),
        features=st.sampled_from([{}, {"liga": False}, {"ss01": True, "zzzz": True}]),
    )
    shapes = st.builds(
        dict,
        kind=st.just("shape"),
        form=st.sampled_from(list(FORMS)),
        width=length(-3, 700),
        height=length(-3, 500),
        corner=length(-5, 200),
        points=st.sampled_from([3, 5, 24, 240]),
        depth=st.floats(0, 0.95),
        roundness=st.floats(0, 1),
        hole=st.floats(0.01, 0.99),
        filled=st.booleans(),
        colour=colour,
        outlined=st.sampled_from(["none", "inside", "middle", "outside"]),
        rim=length(-4, 90),
        fill=fill(texture(files), texture_place),
    )
    reach = [300, 300] if within else size
    place = {
        "x": draw(length(-0.2 * reach[0], 1.2 * reach[0])),
        "y": draw(length(-0.2 * reach[1], 1.2 * reach[1])),
        "scale": draw(st.sampled_from([1, 1, 0.3, 4])),
        "rotation_deg": draw(turn),
        "perspective": draw(perspective()),
    }
    return {
        "kind": "mark",
        "id": item_id,
        "left_out": draw(st.integers(0, 9)) == 9,
        "seed": draw(st.integers(0, 99)),
        "art": draw(
            words
            | shapes
            | light()
            | st.sampled_from(files.vectors)
            | drawing(files)
            | picture(files)
        ),
        "placement": place,
        "treatment": draw(treatment(files, marks, "mark", 3)),
        "landing": draw(landing(files, marks)),
    }


@st.composite
def documents(draw, files):
    """A piece, checked by the model."""
    size = [
        draw(st.sampled_from([16, 333, 640, 1280, 6000]) | st.integers(16, 3000)) for _ in range(2)
    ]
    if size[0] * size[1] > MOST_PIXELS:  # whole items are measured: a large one takes its time
        size[1] = max(16, MOST_PIXELS // size[0])
    marks = [f"m{n}" for n in range(draw(st.integers(1, 4)))]
    cut = draw(st.integers(0, len(marks)))
    stack = [draw(mark(files, item_id, marks, size)) for item_id in marks[:cut]]
    if marks[cut:]:
        members = [draw(mark(files, item_id, marks, size, within=True)) for item_id in marks[cut:]]
        crew = {
            "kind": "group",
            "id": "crew",
            "members": members,
            "combine": draw(st.sampled_from(["stacked", "united", "cut", "met"])),
            "seed": 3,
            "treatment": draw(treatment(files, marks, "mark", 2)),
            "landing": draw(landing(files, marks)),
            "placement": {
                "x": draw(length(0, size[0])),
                "y": draw(length(0, size[1])),
                "scale": draw(st.sampled_from([1, 0.5, 2])),
                "rotation_deg": draw(turn),
                "perspective": draw(perspective()),
            },
        }
        if draw(st.booleans()):  # a group in a group
            crew = {**crew, "id": "watch", "members": [crew], "treatment": []}
        stack.insert(draw(st.integers(0, len(stack))), crew)
    fill = draw(
        st.sampled_from([{"kind": "none"}, {"kind": "colour", "colour": "#d8d0c0"}])
        | st.builds(
            lambda ref, place: {"kind": "texture", "texture": ref, "placement": place},
            texture(files),
            texture_place,
        )
        | gradient()
        | picture_ground(files)
    )
    return load(
        {
            "format": 3,
            "size_px": size,
            "ppi": draw(st.sampled_from([72, 300, 1200])),
            "light": draw(st.sampled_from(["encoded", "encoded", "linear"])),
            "ground": {"fill": fill, "treatment": draw(treatment(files, marks, "ground", 3))},
            "stack": stack,
            "treatment": draw(treatment(files, marks, "piece", 3)),
        }
    )
