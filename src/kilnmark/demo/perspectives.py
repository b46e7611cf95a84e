"""The quay at night: a shed's wall that runs away from the eye, and the ferry's funnel, both
lettered.
"""

from kilnmark.demo.describing import group, mark, piece_of_today, place, px, step, words

CREAM, INK = "#efe6cf", "#20262a"


def _laid(item, **perspective):
    return {**item, "placement": {**item["placement"], "perspective": perspective}}


def _painted(shelf, x, y):
    return [
        step(
            "wear",
            texture=shelf.texture("Deck paint, rubbed"),
            aim=True,
            share=0.09,
            specks=-0.2,
            bias=0.3,
            placement=place(x, y, 0.7),
        ),
        step("follow", way="slope", across=px(3), down=px(3), smooth=px(1.5)),
        step("surface_through", "normal", 0.9, share=0.1, soft=0.16, contrast=1.1),
        step("surface_through", "soft-light", 0.8, shows="all", contrast=1.1, saturation=0),
    ]


def _wall(shelf):
    boards = step(
        "coat", texture=shelf.texture("Quay planks"), placement=place(0, 0, 0.62), keep_to_art=True
    )
    members = [
        mark("Boards", shelf.art("shed-wall"), 0, 0, [boards]),
        mark(
            "", words("PELLWICK", "rye", 250, CREAM, tracking=20), 0, -110, _painted(shelf, 0, 30)
        ),
        mark(
            "",
            words("NIGHT FERRY · BERTH FOUR", "anton", 118, CREAM, tracking=60),
            0,
            170,
            _painted(shelf, 90, -60),
        ),
    ]
    corners = ((-1020, -700), (640, -260), (640, 350), (-1020, 640))
    dusk = step("tones", contrast=0.1, saturation=0.82, lightness=-0.1)
    return _laid(
        group("Shed wall", members, 900, 800, [dusk]),
        kind="corners",
        width=1600,
        height=800,
        corners=corners,
    )


def _quay(shelf):
    stones = step(
        "coat", texture=shelf.texture("Quay stone"), placement=place(0, 0, 0.5), keep_to_art=True
    )
    dusk = step("tones", contrast=0.15, saturation=0.7, lightness=-0.3)
    corners = ((-2100, -110), (2100, -110), (3900, 560), (-3900, 560))
    quay = mark("Quay", shelf.art("shed-wall"), 1200, 1270, [stones, dusk])
    return _laid(quay, kind="corners", width=1600, height=800, corners=corners)


def _funnel(shelf):
    rust = step(
        "wear",
        texture=shelf.texture("Deck paint, rubbed"),
        aim=True,
        share=0.07,
        bias=0.4,
        specks=0.3,
        under="colour",
        under_colour="#6b3a26",
        rim=0.4,
        rim_width=px(2),
        placement=place(40, 60, 0.9),
    )
    members = [
        mark("Paint", shelf.art("funnel"), 0, 0, []),
        mark("Moon and waves", shelf.art("moon-badge"), 0, -70, [], 0.42),
        mark("", words("NIGHT FERRY", "alfa-slab-one", 78, CREAM, tracking=30), 0, 335, []),
    ]
    painted = group("Paintwork", members, 0, 0, [rust])
    shade = mark("Shade", shelf.art("shade"), 0, 0, [], mode="multiply")
    whole = group("Funnel", [painted, shade], 1840, 730, [])
    return _laid(whole, kind="round", radius=px(900 / 3.14159), tilt_deg=-14.0)


def quay_at_night(shelf):
    sky = {
        "fill": {
            "kind": "gradient",
            "angle_deg": 180,
            "stops": [
                {"at": 0, "colour": "#131f38"},
                {"at": 0.6, "colour": "#3a4a6b"},
                {"at": 1, "colour": "#c2784a"},
            ],
        },
        "treatment": [],
    }
    grain = step("grain", "linear-light", amount=1.2, size=px(1.4))
    return piece_of_today(
        "Quay at night, in perspective",
        [2400, 1600],
        sky,
        [_funnel(shelf), _quay(shelf), _wall(shelf)],
        [grain],
    )
