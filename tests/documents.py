"""Documents for tests."""

from kilncore.document import Piece, load


def px(value):
    return {"value": value, "unit": "px"}


def step(kind, mode="normal", strength=1.0, on=True, **params):
    return {"kind": kind, "on": on, "params": params, "landing": {"mode": mode, "strength": strength}}


def lettering(text="Gull", size=90, colour="#c03020", **more):
    return {"kind": "lettering", "text": text, "font": "alfa-slab-one", "size": px(size), "colour": colour, **more}


def mark(art=None, x=200, y=150, treatment=(), mode="normal", strength=1.0, **place):
    return {"kind": "mark", "art": art or lettering(), "placement": {"x": px(x), "y": px(y), **place}, "treatment": list(treatment),
            "landing": {"mode": mode, "strength": strength}}


def piece(*marks, ground=None, size=(400, 300), treatment=(), ppi=300) -> Piece:
    fill = ground or {"kind": "colour", "colour": "#d8d0c0"}
    return load({"format": 2, "size_px": list(size), "ppi": ppi, "ground": {"fill": fill}, "stack": list(marks),
                 "treatment": list(treatment)})


def every_step(texture):
    """All kinds, with a texture that is turned and scaled."""
    place = {"x": px(11.3), "y": px(-7), "scale": 0.83, "rotation_deg": 21, "flip_x": True}
    return [
        step("wear", texture=texture, black=0.3, white=0.7, placement=place),
        step("coat", "overlay", 1.4, texture=texture, placement=place),
        step("follow", across=px(14), down=px(-9)),
        step("soften", radius=px(1.7)),
    ]
