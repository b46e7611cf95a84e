"""Pieces printed on paper: a ticket, a poster, a set of icons."""

from kilnmark.demo.describing import kept, locked, mark, piece, place, px, step, textured, words

NIGHT = "#1d2c45"  # the upper blue of the poster's sky
ICONS = ("bell", "anchor", "lantern", "rope", "cup", "berth", "key", "gull")


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
        textured(shelf, "Ticket buff"),
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
