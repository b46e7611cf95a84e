"""Random art and grounds that are made of files: pictures with chains of operations, drawings whose
colours and parts are changed.
"""

from hypothesis import strategies as st

from kilncore.prep import OPERATIONS
from kilncore.prep.base import PICTURE

share = st.floats(0, 1) | st.sampled_from([0.0, 0.5, 1.0])
colour = st.sampled_from(["#000000", "#ffffff", "#c03020", "#aa0033", "#14646b"])
paint = colour | st.just("url(#g)")


def _crop():
    ends = st.lists(st.integers(0, 19), min_size=2, max_size=2, unique=True).map(sorted)
    return st.builds(
        lambda across, down: {
            "left": across[0] / 20,
            "right": across[1] / 20 + 0.05,
            "top": down[0] / 20,
            "bottom": down[1] / 20 + 0.05,
        },
        ends,
        ends,
    )


SETTINGS = {
    "knock-out": st.fixed_dictionaries(
        {
            "colours": st.lists(colour, max_size=3),
            "tolerance": share,
            "connected": st.booleans(),
            "grow_px": st.sampled_from([0, 0, -20.0, 3.5, 20.0]),
            "feather_px": st.sampled_from([0, 0, 2.5, 40.0]),
            "unmix": st.booleans(),
        }
    ),
    "ink": st.fixed_dictionaries(
        {
            "flatten": st.booleans(),
            "inverted": st.booleans(),
            "black": share,
            "white": share,
            "one_colour": st.booleans(),
        }
    ),
    "crop": _crop(),
    "turn": st.fixed_dictionaries({"quarters": st.sampled_from(["1", "2", "3"])}),
    "flip": st.fixed_dictionaries({"way": st.sampled_from(["across", "down"])}),
}


def operation():
    """Any that there is; one without a line above keeps its own settings."""
    return st.sampled_from(KINDS).flatmap(
        lambda kind: SETTINGS.get(kind, st.just({})).map(
            lambda found: {"kind": kind, "on": True, **found}
        )
    )


KINDS = [kind.name for kind in OPERATIONS.values() if PICTURE in kind.serves]


def chain():
    return st.lists(operation(), max_size=3).map(
        lambda found: [{"id": f"op{n}", **one} for n, one in enumerate(found)]
    )


def picture(files):
    return st.builds(
        lambda found, operations: {**found, "chain": operations},
        st.sampled_from(files.pictures),
        chain(),
    )


def drawing(files):
    return st.builds(
        lambda found, changes, over, paints, under, groups: {
            **found,
            "recolour": [{"old": old, "new": new} for old, new in changes],
            "one_colour": over,
            "shown": {"paints": paints, "under": under, "groups": groups},
        },
        st.sampled_from(files.vectors),
        st.lists(st.tuples(colour, colour), max_size=2),
        st.booleans(),
        st.lists(paint, max_size=2),
        st.lists(paint, max_size=1),
        st.lists(st.integers(0, 3), max_size=2),
    )


def gradient():
    """Of any way; a line whose ends lie on one place is no gradient."""
    stop = st.fixed_dictionaries({"at": share, "colour": colour, "alpha": share})
    end = st.floats(-20, 20)
    line = st.builds(dict, x0=end, y0=end, x1=end, y1=end).filter(
        lambda one: abs(one["x1"] - one["x0"]) + abs(one["y1"] - one["y0"]) > 1e-3
    )
    return st.builds(
        dict,
        kind=st.just("gradient"),
        way=st.sampled_from(["straight", "round", "cone"]),
        stops=st.lists(stop, min_size=2, max_size=8),
        angle_deg=st.floats(-360, 360),
        line=st.none() | line,
        repeat=st.sampled_from(["none", "repeat", "mirror"]),
    )


def picture_ground(files):
    return st.builds(
        lambda found, fit: {**found, "fit": fit},
        picture(files),
        st.sampled_from(["cover", "contain", "pixels", "repeat"]),
    )
