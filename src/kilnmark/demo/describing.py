"""Describing pieces in few words."""


def px(value):
    return {"value": value, "unit": "px"}


def words(text, font, size, colour, **more):
    return {
        "kind": "lettering",
        "text": text,
        "font": font,
        "size": px(size),
        "colour": colour,
        **more,
    }


def mark(name, art, x, y, treatment, scale=1.0, turn=0.0, mode="normal", strength=1.0):
    return {
        "name": name,
        "art": art,
        "treatment": treatment,
        "landing": {"mode": mode, "strength": strength},
        "placement": {"x": px(x), "y": px(y), "scale": scale, "rotation_deg": turn},
    }


def step(kind, mode="normal", strength=1.0, **params):
    return {"kind": kind, "params": params, "landing": {"mode": mode, "strength": strength}}


def kept(made, colour, outside=False):
    """The same step, kept in the areas of a flat colour, or out of them."""
    limit = {"kind": "colour", "colour": colour, "outside": outside}
    limit |= {"tolerance": 0.03, "softness": 0.02}
    return {**made, "landing": {**made["landing"], "limits": [limit]}}


def place(x=0, y=0, scale=1.0, turn=0, flip=False):
    return {"x": px(x), "y": px(y), "scale": scale, "rotation_deg": turn, "flip_x": flip}


def piece(title, size, ground, stack, treatment=(), ppi=300):
    return {
        "format": 1,
        "title": title,
        "size_px": size,
        "ppi": ppi,
        "ground": ground,
        "stack": stack,
        "treatment": list(treatment),
    }


def textured(shelf, name, treatment=(), **where):
    fill = {"kind": "texture", "texture": shelf.texture(name), "placement": place(**where)}
    return {"fill": fill, "treatment": list(treatment)}


def locked(item):
    """Not moved by hand: a border would lie behind every press."""
    return {**item, "locked": True}


def group(name, members, x, y, treatment, mode="normal", strength=1.0):
    """Marks and groups treated as one; their places are counted from its middle."""
    found = mark(name, None, x, y, treatment, mode=mode, strength=strength)
    del found["art"]
    return {
        **found,
        "kind": "group",
        "members": [{"kind": "mark", **member} for member in members],
    }


def piece_of_today(*described, **more):
    """A piece in today's format."""
    tree = piece(*described, **more)
    stack = [{"kind": "mark", **item} for item in tree["stack"]]
    return {**tree, "format": 5, "stack": stack}
