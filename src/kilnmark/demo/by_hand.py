"""A piece that is made mostly by hand: a painted number on the side of a ship, its edges scraped,
its middle cleaned, and all of it scratched down to grey metal.
"""

import math

from kilncore.document import load
from kilncore.strokes import Stroke
from kilncore.strokes.scratches import handful, scratch
from kilnmark.demo.chalked import CHALK, chalk_marks
from kilnmark.demo.describing import mark, piece_of_today, place, px, step, textured, words
from kilnmark.pieces import actions
from kilnmark.pieces.edges import across, along
from kilnmark.storage import assets

GREY, DARK, HULL = "#93938c", "#3a3835", "#d9d2bd"
CORK = {"tip": "cork", "gap": 0.35, "turns": 1.0, "sizes": 0.3, "strays": 0.15, "flips": True}
CRUMB = {"tip": "crumb", "gap": 0.4, "turns": 1.0, "sizes": 0.35, "strays": 0.2, "flips": True}
LONG = (((-0.62, 0.16), (0.3, -0.3)), ((-0.1, 0.42), (0.6, 0.06)), ((0.34, -0.42), (0.52, 0.24)))
FELT = {"tip": "felt-ball", "gap": 0.3, "turns": 1.0, "flips": True}


def hull_plate(owner, shelf):
    """Started as it was painted, then gone over: every stroke can be taken back."""
    worn = step(
        "wear",
        texture=shelf.texture("Deck paint, rubbed"),
        aim=True,
        share=0.13,
        contrast=0.2,
        placement=place(120, -60, 0.55),
    )
    number = [
        worn,
        step("follow", across=px(5), down=px(5), smooth=px(2)),
        step("soften", radius=px(0.8)),
    ]
    name = [
        {**worn, "params": {**worn["params"], "share": 0.22, "placement": place(-320, 210, 0.5)}},
        step("soften", radius=px(0.8)),
    ]
    chalked = [
        step("follow", across=px(4), down=px(4), smooth=px(1)),
        step("surface_through", "normal", 0.85, share=0.3, soft=0.1),
    ]
    bright = step("dabs", strength=0.9, colour=GREY, keep_to_art=False)
    edges = step("dabs", strength=0.55, colour=DARK, keep_to_art=False)
    made = actions.start(
        owner,
        load(
            piece_of_today(
                "Hull plate, gone over by hand",
                [2400, 1500],
                textured(shelf, "Hull side, painted"),
                [
                    mark("", words("P·47", "alfa-slab-one", 760, HULL), 1200, 640, number),
                    mark(
                        "",
                        words("PELLWICK NIGHT FERRY", "josefin-sans-bold", 104, HULL, tracking=110),
                        1200,
                        1160,
                        name,
                    ),
                    mark(
                        "Chalk",
                        {"kind": "drawn", "colour": CHALK, "size": px(240)},
                        840,
                        1322,
                        chalked,
                    ),
                ],
                [edges, bright],
            )
        ),
    )
    for edits, label in (
        (_scrapes(made), "Edges scraped"),
        (_cleaned(made), "Cleaned in the middle"),
        (_scratches(made), "Scratched to the metal"),
        (_chalked(made), "Chalked"),
    ):
        made = actions.change(made, made.version, edits, label)
    return made


def _scrapes(made) -> list[dict]:
    """Along the edges of both marks, with two tips."""
    document, found = made.document, []
    for item, radius in zip(document.stack[:2], (0.034, 0.035), strict=True):
        path = [*document.way_to(item.id), "landing"]
        for n, told in enumerate((CORK, CRUMB)):
            brush = Stroke(points=((0, 0),), radius=radius * (1 + n / 2), loaded=0.9, **told)
            strokes = along(document, item.id, brush, 21 + n, "all", assets())
            found.append({"op": "add_strokes", "path": path, "strokes": _told(strokes[:: 1 + n])})
    return found


def _cleaned(made) -> list[dict]:
    """The wear held off from the middle of the number, as if it had been wiped."""
    item = made.document.stack[0]
    path = [*made.document.way_to(item.id), "treatment", item.treatment[0].id, "landing"]
    strokes = [
        Stroke(
            points=[(-0.95 + x / 12, y + 0.03 * math.sin(x)) for x in range(24)],
            radius=0.16,
            loaded=0.45,
            strength=0.85,
            seed=7 + n,
            **FELT,
        )
        for n, y in enumerate((-0.45, -0.28))
    ]
    return [{"op": "add_strokes", "path": path, "strokes": _told(strokes)}]


def _scratches(made) -> list[dict]:
    """Dark along each scratch, and bright metal in it: never pure white."""
    document = made.document
    wide, tall = across(document, "piece")
    fine = handful(46, (wide, tall), 0.0022, 0.5, 12)
    long = [
        one
        for n, (start, end) in enumerate(LONG)
        for one in _bundle(start, end, 7 - n, 0.0034, 40 + 10 * n)
    ]
    dark = [
        one.model_copy(update={"radius": one.radius * 2.4, "strength": 0.7, "hardness": 0.2})
        for one in (*long, *fine[::2])
    ]
    shadow, bright = document.treatment
    return [
        {
            "op": "add_strokes",
            "path": ["treatment", shadow.id, "params"],
            "strokes": _told(dark),
        },
        {
            "op": "add_strokes",
            "path": ["treatment", bright.id, "params"],
            "strokes": _told([*long, *fine]),
        },
    ]


def _chalked(made) -> list[dict]:
    """What was drawn last, in a mark of its own."""
    path = [*made.document.way_to(made.document.stack[2].id), "art"]
    return [{"op": "add_strokes", "path": path, "strokes": _told(chalk_marks())}]


def _bundle(start, end, count: int, width: float, seed: int) -> list[Stroke]:
    """Scratches of something rough, side by side."""
    (x0, y0), (x1, y1) = start, end
    long = math.hypot(x1 - x0, y1 - y0)
    across_x, across_y = (y0 - y1) / long, (x1 - x0) / long
    made = []
    for n in range(count):
        aside = (n - count / 2) * width * (0.9 + 0.5 * math.sin(5 * n + seed))
        early, late = 0.16 * abs(math.sin(3 * n + seed)), 0.2 * abs(math.cos(2 * n + seed))
        ends = [
            (x0 + (x1 - x0) * t + across_x * aside, y0 + (y1 - y0) * t + across_y * aside)
            for t in (early, 1 - late)
        ]
        made.append(scratch(*ends, width * (0.45 + 0.55 * abs(math.cos(n + seed))), seed + n))
    return made


def _told(strokes: list[Stroke]) -> list[dict]:
    return [one.model_dump(mode="json", exclude_defaults=True) for one in strokes]
