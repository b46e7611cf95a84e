"""A ticket in a script whose letters overlap, worn as one; a luggage label in two alphabets."""

from kilnmark.demo.describing import (
    group,
    mark,
    piece_of_today,
    place,
    px,
    step,
    textured,
    words,
)

RED, INK, TAG = "#a5321d", "#2b2723", "#d9b98a"


def supper_ticket(shelf):
    def printed(x, y, strength=1.0):
        rubbed, specks = shelf.texture("Deck paint, rubbed"), shelf.texture("Mailbag specks")
        return [
            step("wear", texture=rubbed, black=0.26, white=0.55, placement=place(x, y, 0.7)),
            step("wear", strength=strength, texture=specks, black=0.2, white=0.6),
            step("soften", radius=px(0.7)),
        ]

    script = {"font": "mr-dafoe", "size": 455, "colour": RED}
    lettered = [
        mark("", words("Supper", **script), -120, -155, [], turn=-4),
        mark("", words("aboard", **script), 80, 125, [], turn=-4),
    ]
    small = [
        mark("", words("PELLWICK NIGHT FERRY", "anton", 84, INK, tracking=215), 0, -40, []),
        mark("", words("ONE SITTING, NINE O'CLOCK", "courier-prime-bold", 64, INK), 0, 66, []),
    ]
    return piece_of_today(
        "Supper ticket",
        [2126, 1240],
        textured(shelf, "Ticket buff"),
        [
            mark(
                "Cup",
                shelf.art("cup") | {"one_colour": True, "colour": INK},
                1800,
                420,
                printed(0, 60),
                3.9,
                7,
                "multiply",
            ),
            mark(
                "",
                words("No 0417", "rye", 112, RED, tracking=40),
                1800,
                880,
                printed(60, 0),
                turn=7,
                mode="multiply",
                strength=0.9,
            ),
            group("Supper aboard", lettered, 840, 450, printed(80, -40), "multiply"),
            group("Small print", small, 830, 1010, printed(-120, 90, 0.7), "multiply"),
        ],
    )


def luggage_label(shelf):
    boards, stock = shelf.texture("Crate boards"), shelf.texture("Ticket stock")
    rubbed, specks = shelf.texture("Deck paint, rubbed"), shelf.texture("Mailbag specks")
    paper = [
        step("coat", "multiply", 0.9, texture=stock, placement=place(0, 0, 0.9)),
        step("coat", "soft-light", 0.5, texture=rubbed, placement=place(120, 60, 1.1)),
        step("soften", radius=px(0.8)),
    ]
    printed = [
        step("wear", texture=rubbed, black=0.25, white=0.56, placement=place(-60, 40, 0.75)),
        step("wear", strength=0.8, texture=specks, black=0.2, white=0.6),
        step("soften", radius=px(0.7)),
    ]
    both = words(
        "NIGHT FERRY\n\u05de\u05e2\u05d1\u05d5\u05e8\u05ea \u05dc\u05d9\u05dc\u05d4 417",
        "rubik-bold",
        168,
        INK,
        tracking=30,
        line_spacing=1.12,
    )
    marks = [
        mark("", both, 64, -72, []),
        mark("", words("TO CABIN 12", "saira-stencil-one", 104, RED, tracking=60), 70, 322, []),
    ]
    ground = {
        "fill": {"kind": "texture", "texture": boards, "placement": place(0, 0, 0.9, 90)},
        "treatment": [],
    }
    return piece_of_today(
        "Luggage label, two alphabets",
        [1890, 1200],
        ground,
        [
            mark("Label", shelf.art("luggage-label"), 945, 600, paper, 1.32, -4),
            {
                **group("Both alphabets", marks, 985, 560, printed, "multiply", 0.95),
                "placement": {"x": px(985), "y": px(545), "scale": 0.88, "rotation_deg": -4},
            },
        ],
    )
