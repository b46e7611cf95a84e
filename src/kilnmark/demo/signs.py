"""Pieces painted, sprayed or burnt onto something: a sign, a wall, a crate."""

from kilnmark.demo.describing import mark, piece, place, px, step, textured, words


def deck_sign(shelf):
    def painted(x=0, y=0, black=0.32, white=0.62):
        return [
            step(
                "wear",
                texture=shelf.texture("Deck paint, rubbed"),
                black=black,
                white=white,
                placement=place(x, y),
            ),
            step(
                "coat", "multiply", 0.55, texture=shelf.texture("Quay wall"), placement=place(x, y)
            ),
            step("follow", across=px(16), down=px(16), smooth=px(1.5)),
            step("soften", radius=px(0.9)),
        ]

    return piece(
        "Deck sign, night sailing",
        [2400, 1600],
        textured(shelf, "Quay planks"),
        [
            mark("Moon and waves", shelf.art("moon-badge"), 1200, 430, painted(300, 120), 1.15),
            mark(
                "",
                words("PELLWICK", "alfa-slab-one", 300, "#efe8d6", tracking=20),
                1200,
                900,
                painted(),
            ),
            mark(
                "",
                words("NIGHT FERRY", "rokkitt-extrabold", 170, "#f0c25e", tracking=120),
                1200,
                1180,
                painted(-200, 80),
            ),
        ],
    )


def quay_stencil(shelf):
    def sprayed(x=0, y=0):
        return [
            step(
                "wear",
                texture=shelf.texture("Mailbag specks"),
                black=0.25,
                white=0.7,
                placement=place(x, y, 1.2, 30),
            ),
            step(
                "wear",
                strength=0.75,
                texture=shelf.texture("Quay wall"),
                black=0.3,
                white=0.46,
                placement=place(x, y),
            ),
            step("follow", across=px(10), down=px(10), smooth=px(1)),
            step("soften", radius=px(1.2)),
        ]

    return piece(
        "Berth four, quay wall",
        [2000, 2000],
        textured(shelf, "Quay wall"),
        [
            mark(
                "Anchor",
                shelf.art("anchor"),
                1000,
                700,
                sprayed(),
                8.6,
                mode="multiply",
                strength=0.9,
            ),
            mark(
                "",
                words("BERTH 4", "anton", 420, "#233f73", tracking=30),
                1000,
                1540,
                sprayed(200, 400),
                mode="multiply",
                strength=0.9,
            ),
        ],
    )


def crate(shelf):
    burnt = [
        step(
            "wear",
            texture=shelf.texture("Deck paint, rubbed"),
            black=0.3,
            white=0.58,
            placement=place(150, -60, 0.7, 200),
        ),
        step("follow", across=px(12), down=px(8), smooth=px(1)),
        step("soften", radius=px(1.4)),
    ]
    return piece(
        "Tea crate",
        [2000, 1500],
        textured(shelf, "Crate boards"),
        [
            mark("Cup", shelf.art("cup"), 1000, 440, burnt, 4.6, mode="multiply", strength=0.85),
            mark(
                "",
                words(
                    "SECOND DOG\nWATCH TEA",
                    "rokkitt-extrabold",
                    260,
                    "#2b1710",
                    tracking=40,
                    line_spacing=0.95,
                ),
                1000,
                1010,
                burnt,
                mode="multiply",
                strength=0.9,
            ),
        ],
    )
