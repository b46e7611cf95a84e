"""Fills of art, lines that words stand on, lines around letters, pools of light: any of them."""

from hypothesis import strategies as st

from fuzz.arts import gradient

COLOURS = st.sampled_from(["#1d2c45", "#c2451a", "#f2c14e", "#000000", "#ffffff"])
share = st.floats(0, 1)


def px(low, high):
    return st.builds(lambda value: {"value": value, "unit": "px"}, st.floats(low, high))


def _points(least, most, reach):
    return st.lists(st.tuples(*(st.floats(-reach, reach),) * 2), min_size=least, max_size=most)


def fill(texture, place):
    textured = st.builds(
        lambda ref, where: {"kind": "texture", "texture": ref, "placement": where}, texture, place
    )
    return st.none() | gradient() | textured | st.just({"kind": "surface"})


def along():
    how = st.sampled_from(["held", "letters", "outlines"])
    return (
        st.none()
        | st.builds(dict, kind=st.just("arc"), turn_deg=st.floats(-350, 350), how=how)
        | st.builds(
            dict,
            kind=st.just("circle"),
            radius=px(-5, 700),
            side=st.sampled_from(["outside", "inside"]),
            start_deg=st.floats(-360, 360),
            spread=share,
            how=how,
        )
        | st.builds(
            dict, kind=st.just("wave"), height=st.floats(-2, 2), waves=st.floats(0.1, 40), how=how
        )
        | st.builds(dict, kind=st.just("curve"), points=_points(2, 9, 6), how=how)
    )


def lines():
    return st.builds(
        dict,
        outlined=st.sampled_from(["none", "inside", "middle", "outside"]),
        width=px(-4, 90),
        second=st.booleans(),
        second_gap=px(-4, 60),
        second_width=px(-4, 60),
        inline=st.booleans(),
        inset=px(-4, 60),
        inline_width=px(-4, 60),
        drop=st.booleans(),
        across=px(-90, 90),
        down=px(-90, 90),
        drop_gap=px(-4, 60),
    )


def light():
    pool = st.builds(
        dict,
        form=st.sampled_from(["ellipse", "stroke"]),
        points=_points(2, 6, 1.5) | _points(2, 3, 40),
        colour=COLOURS,
        strength=share,
        blur=st.floats(0, 3),
        width=st.floats(0.001, 5),
    )
    return st.builds(
        dict,
        kind=st.just("light"),
        width=px(-3, 900),
        height=px(-3, 900),
        pools=st.lists(pool, max_size=4),
    )
