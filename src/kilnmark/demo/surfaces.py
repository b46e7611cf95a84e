"""A boat shed's sign that sank into its boards, and a stencil that was sprayed on the quay wall."""

from kilnmark.demo.describing import mark, piece_of_today, place, px, step, textured, words

PAINT, ROPE, SPRAY = "#b23a1c", "#efe6cf", "#18344f"


def _through(mode, strength, **params):
    return step("surface_through", mode, strength, **params)


def boat_shed(shelf):
    def painted(x, y):
        return [
            step(
                "wear",
                texture=shelf.texture("Deck paint, rubbed"),
                aim=True,
                share=0.12,
                specks=-0.3,
                bias=0.25,
                placement=place(x, y, 0.8),
            ),
            step("tones", strength=0.4, match=True),
            step("follow", way="slope", across=px(5), down=px(5), smooth=px(1.5)),
            _through("normal", 0.95, share=0.12, soft=0.16, contrast=1.1),
            _through("soft-light", 0.8, shows="all", contrast=1.1, saturation=0, lightness=-0.06),
            step("soften", match=True, radius=px(0.8)),
        ]

    return piece_of_today(
        "Boat shed, painted on planks",
        [2400, 1600],
        textured(shelf, "Quay planks", scale=1.15),
        [
            mark(
                "",
                words("BOATS", "alfa-slab-one", 470, PAINT, tracking=30),
                1200,
                780,
                painted(80, -40),
            ),
            mark(
                "",
                words("for hire, or for company", "lobster", 190, ROPE),
                1200,
                1130,
                painted(-160, 60),
            ),
            mark("Rope", shelf.art("rope"), 1200, 350, painted(40, 90), 3.2),
        ],
    )


def ferry_stencil(shelf):
    def sprayed(x, y):
        specks = shelf.texture("Mailbag specks")
        return [
            step("soften", radius=px(3)),
            step("wear", texture=specks, aim=True, share=0.05, contrast=0.4, placement=place(x, y)),
            step("tones", strength=0.4, match=True),
            step("follow", across=px(7), down=px(7), smooth=px(1.2)),
            _through("soft-light", 1.0, shows="all", contrast=1.3, saturation=0, lightness=-0.1),
            _through("normal", 0.9, share=0.05, soft=0.14, contrast=1.1),
            step("grain", strength=0.5, match=True),
        ]

    return piece_of_today(
        "Ferry stencil, sprayed on the wall",
        [2000, 2000],
        textured(shelf, "Quay wall", scale=1.1),
        [
            mark(
                "",
                words("NIGHT\nFERRY", "saira-stencil-one", 430, SPRAY, line_spacing=0.92),
                1000,
                1230,
                sprayed(50, 20),
            ),
            mark("Bell", shelf.art("bell"), 1000, 560, sprayed(-90, 140), 6.0),
        ],
    )
