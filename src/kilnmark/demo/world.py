"""The demo's textures and pieces, as documents."""

from kilnmark.demo.describing import kept, locked, mark, piece, place, px, step, textured, words
from kilnmark.demo.labels import luggage_label, supper_ticket
from kilnmark.demo.perspectives import quay_at_night
from kilnmark.demo.surfaces import boat_shed, ferry_stencil

TEXTURES = [
    # name, maker, size in px, seed, settings
    (
        "Deck paint, rubbed",
        "grunge",
        2048,
        41,
        {"amount": 0.62, "patches": 0.55, "specks": 0.55, "scratches": 0.35},
    ),
    (
        "Mailbag specks",
        "grunge",
        1536,
        7,
        {"amount": 0.2, "patches": 0.2, "specks": 0.85, "scratches": 0.1},
    ),
    ("Quay planks", "planks", 2048, 11, {"board_px": 256, "weather": 0.55}),
    (
        "Crate boards",
        "planks",
        2048,
        23,
        {"board_px": 400, "weather": 0.15, "tone": 0.55, "knots": 0.3},
    ),
    ("Quay wall", "concrete", 2048, 5, {"pinholes": 0.5, "cracks": 0.6}),
    ("Ticket stock", "paper", 1536, 3, {"warmth": 0.45, "tooth": 0.5, "age": 0.4}),
]


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


def ticket(shelf):
    def pressed(x=0, y=0):
        return [
            step(
                "wear",
                texture=shelf.texture("Mailbag specks"),
                black=0.2,
                white=0.55,
                placement=place(x, y, 0.8),
            ),
            step(
                "wear",
                strength=0.5,
                texture=shelf.texture("Ticket stock"),
                black=0.72,
                white=0.9,
                placement=place(x, y),
            ),
            step("soften", radius=px(0.6)),
        ]

    red, ink = "#a8341f", "#22303c"
    return piece(
        "Return ticket",
        [2126, 1063],
        textured(shelf, "Ticket stock"),
        [
            locked(
                mark(
                    "Border",
                    shelf.art("ticket-border"),
                    1063,
                    531,
                    pressed(50, 20),
                    2.0,
                    mode="multiply",
                )
            ),
            mark("", words("Pellwick", "lobster", 300, red), 790, 395, pressed(), mode="multiply"),
            mark(
                "",
                words("NIGHT FERRY  RETURN", "josefin-sans-bold", 80, ink, tracking=100),
                790,
                620,
                pressed(90),
                mode="multiply",
            ),
            mark(
                "",
                words("ONE BERTH  DECK C", "anton", 76, ink, tracking=80),
                790,
                790,
                pressed(300),
                mode="multiply",
            ),
            mark("Bell", shelf.art("bell"), 1730, 531, pressed(-70), 3.6, turn=-8, mode="multiply"),
        ],
    )


NIGHT = "#1d2c45"  # the upper blue of the poster's sky


def poster(shelf):
    printed = [
        step(
            "wear",
            texture=shelf.texture("Deck paint, rubbed"),
            black=0.16,
            white=0.45,
            placement=place(-300, 250, 0.8, 15),
        ),
        kept(
            step(
                "coat",
                "soft-light",
                1.4,
                texture=shelf.texture("Quay wall"),
                placement=place(0, 0, 1.4),
            ),
            NIGHT,
            outside=True,
        ),
        kept(step("grain", "screen", 0.18, amount=60, size=px(2)), NIGHT),
        step("soften", radius=px(0.5)),
    ]
    lettered = [step("wear", texture=shelf.texture("Mailbag specks"), black=0.25, white=0.6)]
    return piece(
        "Night boat poster",
        [1748, 2480],
        textured(shelf, "Ticket stock", scale=1.2),
        [
            mark("Night boat", shelf.art("night-boat"), 874, 1110, printed, 2.0),
            mark(
                "",
                words(
                    "SLEEP\nACROSS",
                    "abril-fatface",
                    215,
                    "#f1e6cc",
                    line_spacing=0.95,
                    align="left",
                ),
                700,
                500,
                lettered,
            ),
            mark(
                "",
                words("PELLWICK NIGHT FERRY", "limelight", 118, "#1d2c45"),
                874,
                2270,
                lettered,
                mode="multiply",
            ),
        ],
        [
            step("coat", "multiply", 0.6, texture=shelf.texture("Ticket stock")),
            step("grain", "overlay", amount=9, size=px(1.6)),
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


ICONS = ("bell", "anchor", "lantern", "rope", "cup", "berth", "key", "gull")


def icon_set(shelf):
    def printed(number):
        turn, away = 40 * number, 130 * number
        return [
            step(
                "wear",
                texture=shelf.texture("Deck paint, rubbed"),
                black=0.3,
                white=0.6,
                placement=place(away - 400, 300 - away, 0.6, turn),
            ),
            step("wear", texture=shelf.texture("Mailbag specks"), black=0.2, white=0.55),
            step("soften", radius=px(0.6)),
        ]

    marks = [
        mark(
            name.capitalize(),
            shelf.art(name) | {"one_colour": True, "colour": "#f1e6cc"},
            300 + 600 * (number % 4),
            310 + 580 * (number // 4),
            printed(number),
            3.6,
        )
        for number, name in enumerate(ICONS)
    ]
    stops = [{"at": 0, "colour": "#14324a"}, {"at": 1, "colour": "#0b1b2b"}]
    grained = [step("coat", "soft-light", 0.9, texture=shelf.texture("Quay wall"))]
    ground = {
        "fill": {"kind": "gradient", "stops": stops, "angle_deg": 160},
        "treatment": grained,
    }
    return piece("Deck icons, a set of eight", [2400, 1200], ground, marks)


PIECES = [
    quay_at_night,
    ferry_stencil,
    boat_shed,
    luggage_label,
    supper_ticket,
    lamp_in_ink,
    mailbag,
    icon_set,
    crate,
    ticket,
    quay_stencil,
    poster,
    deck_sign,
]  # the newest is shown first
