"""Documents for tests."""

from kilncore.assets import content_hash
from kilncore.document import Piece, load
from kilncore.steps import STEPS
from kilncore.strokes import Stroke, file_of


def px(value):
    return {"value": value, "unit": "px"}


def step(kind, mode="normal", strength=1.0, on=True, **params):
    return {
        "kind": kind,
        "on": on,
        "params": params,
        "seed": 11,
        "landing": {"mode": mode, "strength": strength},
    }


def lettering(text="Gull", size=90, colour="#c03020", **more):
    return {
        "kind": "lettering",
        "text": text,
        "font": "alfa-slab-one",
        "size": px(size),
        "colour": colour,
        **more,
    }


def mark(art=None, x=200, y=150, treatment=(), mode="normal", strength=1.0, **place):
    return {
        "kind": "mark",
        "seed": 7,
        "art": art or lettering(),
        "placement": {"x": px(x), "y": px(y), **place},
        "treatment": list(treatment),
        "landing": {"mode": mode, "strength": strength},
    }


def piece(*marks, ground=None, size=(400, 300), treatment=(), ppi=300) -> Piece:
    fill = ground or {"kind": "colour", "colour": "#d8d0c0"}
    return load(
        {
            "format": 2,
            "size_px": list(size),
            "ppi": ppi,
            "ground": {"fill": fill},
            "stack": list(marks),
            "treatment": list(treatment),
        }
    )


STROKES = file_of(Stroke(points=((-0.9, -0.1), (0.9, 0.2)), radius=0.3, tip="cork", seed=3))
STROKES_HASH = content_hash(STROKES)

STRONG = {
    "dabs": {"strokes": [STROKES_HASH], "colour": "#1f5fa0"},
    "wear": {
        "black": 0.3,
        "white": 0.7,
        "bias": 0.4,
        "thin": 0.5,
        "specks": 0.3,
        "least_part": 0.6,
        "region": {"width": px(60), "height": px(40), "feather": px(8)},
    },
    "follow": {"across": px(14), "down": px(-9)},
    "soften": {"radius": px(1.7)},
    "tones": {"contrast": 0.3, "saturation": 0.6, "hue_deg": 40, "lift": 0.1, "middle": 1.4},
}
LANDINGS = {"coat": ("overlay", 1.4)}


def one_step(kind: str, texture) -> dict:
    """A step of any kind, with a texture that is turned and scaled where it takes one."""
    place = {"x": px(11.3), "y": px(-7), "scale": 0.83, "rotation_deg": 21, "flip_x": True}
    known = STEPS[kind].settings.model_fields
    given = {
        name: value for name, value in (("texture", texture), ("placement", place)) if name in known
    }
    return step(kind, *LANDINGS.get(kind, ()), **given, **STRONG.get(kind, {}))


def every_step(texture) -> list[dict]:
    """All kinds that there are, one after another."""
    return [one_step(kind, texture) for kind in STEPS]


def group(*members, x=0, y=0, treatment=(), mode="normal", strength=1.0, **place):
    return {
        "kind": "group",
        "placement": {"x": px(x), "y": px(y), **place},
        "members": list(members),
        "treatment": list(treatment),
        "landing": {"mode": mode, "strength": strength},
    }
