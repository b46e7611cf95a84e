"""Pieces made from pictures of drawings: a badge on paper, a lamp in ink."""

from kilnmark.demo.describing import mark, piece, place, px, step, textured, words


def mailbag(shelf):
    badge = shelf.art("badge-on-paper") | {
        "chain": [
            {"kind": "knock-out", "id": "paper", "colours": ["#fbfaf8"], "connected": False},
            {"kind": "crop", "id": "crop", "left": 0.1, "top": 0.1, "right": 0.9, "bottom": 0.9},
        ]
    }
    stamped = [
        step(
            "wear",
            texture=shelf.texture("Deck paint, rubbed"),
            black=0.22,
            white=0.5,
            placement=place(-120, 60, 0.7, 40),
        ),
        step("wear", texture=shelf.texture("Mailbag specks"), black=0.15, white=0.5),
        step("follow", across=px(6), down=px(6), smooth=px(1)),
        step("soften", radius=px(0.7)),
    ]
    return piece(
        "Mailbag badge, from a picture",
        [1800, 1350],
        textured(shelf, "Ticket stock", scale=1.1),
        [
            mark("Badge on paper", badge, 900, 560, stamped, 0.72, turn=-4, mode="multiply"),
            mark(
                "",
                words("NIGHT MAIL", "rokkitt-extrabold", 190, "#1f3a5f", tracking=90),
                900,
                1165,
                stamped,
                turn=-2,
                mode="multiply",
            ),
        ],
    )


def lamp_in_ink(shelf):
    lamp = shelf.art("deck-lamp-in-ink") | {
        "chain": [
            {
                "kind": "ink",
                "id": "ink",
                "flatten": True,
                "black": 0.3,
                "white": 0.82,
                "one_colour": True,
                "colour": "#3a1c10",
            }
        ]
    }
    burnt = [
        step(
            "wear",
            strength=0.8,
            texture=shelf.texture("Deck paint, rubbed"),
            black=0.2,
            white=0.45,
            placement=place(60, -90, 0.8, 120),
        ),
        step("follow", across=px(9), down=px(7), smooth=px(1)),
        step("soften", radius=px(1)),
    ]
    return piece(
        "Deck lamp, drawn in ink",
        [1600, 1800],
        textured(shelf, "Crate boards"),
        [mark("Lamp in ink", lamp, 800, 900, burnt, 1.3, mode="multiply", strength=0.9)],
    )
