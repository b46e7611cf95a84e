"""Random chains that prepare textures."""

from hypothesis import strategies as st

from kilncore.prep import OPERATIONS
from kilncore.prep.base import TEXTURE

share = st.floats(0, 1) | st.sampled_from([0.0, 0.5, 1.0])
SETTINGS = {
    "grey": {"red": share, "green": share, "blue": share},
    "ramp": {
        "pins": st.lists(st.tuples(share, share), min_size=2, max_size=5).map(
            lambda pins: [
                {"at": at, "shown": shown}
                for at, (_, shown) in zip(sorted(p[0] for p in pins), pins, strict=True)
            ]
        ),
        "between": st.sampled_from(["straight", "smooth", "steps"]),
    },
    "two-tone": {"share": share, "contrast": share},
    "threshold": {"automatic": st.booleans(), "at": share, "soft": share},
    "even-contrast": {"width": st.floats(0.005, 1), "strength": share},
    "specks": {
        "way": st.sampled_from(["drop", "fill", "keep"]),
        "least_px": st.floats(0, 9),
        "most_px": st.floats(9, 5000),
    },
    "grow": {"by_px": st.floats(-30, 30)},
    "blur": {"sigma_px": st.sampled_from([0, 0.3, 2.0, 13.0, 200.0])},
    "sharpen": {"amount": st.floats(0, 10), "radius_px": st.floats(0.1, 100)},
    "relief": {"angle_deg": st.floats(-360, 360), "height_px": st.floats(0, 200)},
    "pixelate": {"cell_px": st.floats(1, 1000)},
    "noise": {"amount": st.floats(0, 2), "speck_px": st.floats(1, 500)},
    "crop": {
        "left": st.floats(0, 0.45),
        "top": st.floats(0, 0.45),
        "right": st.floats(0.5, 1),
        "bottom": st.floats(0.5, 1),
    },
    "straighten": {"angle_deg": st.floats(-45, 45)},
    "mirror": {"down": st.booleans()},
    "flatten": {"width": st.floats(0.01, 1), "strength": share, "colours": st.booleans()},
    "seamless": {"way": st.sampled_from(["bands", "speckle"]), "overlap": st.floats(0.02, 0.45)},
    "clean": {
        "patches": st.lists(
            st.builds(
                dict,
                points=st.lists(
                    st.tuples(st.floats(-0.2, 1.2), st.floats(-0.2, 1.2)), min_size=1, max_size=6
                ),
                width=st.floats(0.001, 0.5),
                another=st.integers(0, 40),
            ),
            max_size=3,
        )
    },
}
KINDS = sorted(kind.name for kind in OPERATIONS.values() if TEXTURE in kind.serves)


def operation():
    """One of them, with settings within bounds."""
    return st.sampled_from(KINDS).flatmap(
        lambda kind: st.builds(
            lambda on, settings: {"kind": kind, "on": on, **settings},
            st.sampled_from([True, True, True, False]),
            st.fixed_dictionaries(SETTINGS.get(kind, {})),
        )
    )


chain = st.just([]) | st.lists(operation(), max_size=3)
