"""Pieces of fills, words on circles and light: a poster on a cone, a card in foil, a round stamp, a
lit card for a web page.
"""

from kilnmark.demo.describing import group, mark, piece_of_today, place, px, step, textured, words

NIGHT, EMBER, GOLD, PAPER, INK = "#14202f", "#c2451a", "#f2c14e", "#f1e6cc", "#23384f"


def _stops(*colours):
    return [{"at": n / (len(colours) - 1), "colour": one} for n, one in enumerate(colours)]


def _shape(form, width, height, colour=INK, **more):
    told = {"kind": "shape", "form": form, "width": px(width), "height": px(height)}
    return {**told, "colour": colour, **more}


def tonight(shelf):
    """A grainy cone, and words that turn whatever lies beneath them over."""
    cone = {
        "kind": "gradient",
        "way": "cone",
        "stops": _stops("#1d2c45", "#27506b", EMBER, GOLD, EMBER, "#3a2438", "#1d2c45"),
        "line": {"x0": 0.06, "y0": 0.12, "x1": -0.4, "y1": 0.3},
    }
    grained = [step("grain", "overlay", amount=34, size=px(3), sort="film")]
    big = words("NIGHT\nFERRY", "anton", 660, PAPER, line_spacing=0.94)
    arc = {"kind": "arc", "turn_deg": 84}
    over = words("PELLWICK · EVERY EVENING", "josefin-sans-bold", 92, PAPER, tracking=90, along=arc)
    moon = group(
        "Moon",
        [
            mark("", _shape("ellipse", 430, 430, GOLD), 0, 0, []),
            mark("", _shape("ellipse", 400, 400, GOLD), 96, -58, []),
        ],
        874,
        560,
        [],
    )
    return piece_of_today(
        "Tonight, on a cone",
        [1748, 2480],
        {"fill": cone, "treatment": grained},
        [
            {**moon, "combine": "cut"},
            mark("", big, 874, 1560, [], mode="difference"),
            mark("", over, 874, 420, []),
            mark(
                "",
                words("BERTH 4, TEN O'CLOCK", "josefin-sans-bold", 84, PAPER, tracking=160),
                874,
                2290,
                [],
            ),
        ],
        [step("grain", "soft-light", amount=18, size=px(1.6))],
    )


def foil_card(shelf):
    """Letters of foil on card, each pressed in a little."""
    foil = shelf.texture("Cabin foil")

    def laid(x, y, scale=1.0, turn=0.0):
        return {"kind": "texture", "texture": foil, "placement": place(x, y, scale, turn)}

    rubbed = shelf.texture("Deck paint, rubbed")
    worn = [
        step("wear", texture=rubbed, black=0.2, white=0.5, placement=place(70, -30, 0.6)),
        step("soften", radius=px(0.6)),
    ]
    script = words("Captain's table", "mr-dafoe", 252, GOLD, fill=laid(0, 0, 1.0, 12))
    lines = {"outlined": "outside", "width": px(5), "colour": "#0d1520"}
    name = words(
        "PELLWICK NIGHT FERRY", "josefin-sans-bold", 84, GOLD, tracking=130, fill=laid(0, 40)
    )
    rim = _shape("rectangle", 1530, 850, corner=px(34), filled=False, outlined="inside", rim=px(7))
    card = step(
        "coat",
        texture=shelf.texture("Cabin card"),
        colours="two",
        darks="#04080d",
        lights="#2b4159",
    )
    ground = {"fill": {"kind": "colour", "colour": "#16232f"}, "treatment": [card]}
    shade = {"kind": "light", "width": px(1654), "height": px(1004), "pools": [
        {"id": "glow", "colour": "#4a6a86", "strength": 0.5, "blur": 0.9,
         "points": [[-0.3, -0.35], [0.5, -0.35], [-0.3, 0.35]]},
        {"id": "dark", "colour": "#060b12", "strength": 0.6, "blur": 0.9,
         "points": [[0.6, 0.55], [1.5, 0.55], [0.6, 1.1]]},
    ]}  # fmt: skip
    return piece_of_today(
        "Captain's table, in foil",
        [1654, 1004],
        ground,
        [
            mark("Light on the card", shade, 827, 502, [], mode="soft-light"),
            mark("Rim", {**rim, "rim_colour": "#b98f3a"}, 827, 502, worn),
            mark("", {**script, "lines": lines}, 815, 440, worn, turn=-4),
            mark("", name, 827, 752, worn[1:]),
        ],
        [step("grain", "overlay", amount=7, size=px(1.4))],
    )


def round_stamp(shelf):
    """Words outside and inside a ring, printed as one and worn."""
    rubbed, specks = shelf.texture("Deck paint, rubbed"), shelf.texture("Mailbag specks")
    printed = [
        step("wear", texture=rubbed, black=0.3, white=0.6, placement=place(60, 90, 0.8)),
        step("wear", strength=0.9, texture=specks, black=0.2, white=0.62),
        step("soften", radius=px(0.9)),
    ]
    red = "#a5321d"
    outer = {"kind": "circle", "radius": px(432), "start_deg": 0, "spread": 0.56}
    lower = {"kind": "circle", "radius": px(512), "side": "inside", "start_deg": 180, "spread": 0.3}
    inner = {
        "kind": "circle",
        "radius": px(268),
        "side": "inside",
        "start_deg": 180,
        "spread": 0.42,
    }
    members = [
        mark("Outer ring", _shape("ring", 1180, 1180, red, hole=0.965), 0, 0, []),
        mark("Inner ring", _shape("ring", 800, 800, red, hole=0.975), 0, 0, []),
        mark(
            "", words("PELLWICK NIGHT FERRY", "saira-stencil-one", 112, red, along=outer), 0, 0, []
        ),
        mark("", words("HARBOUR OFFICE", "saira-stencil-one", 86, red, along=lower), 0, 0, []),
        mark("", words("PAID AT BERTH 4", "josefin-sans-bold", 62, red, along=inner), 0, 0, []),
        mark("Anchor", {**shelf.art("anchor"), "one_colour": True, "colour": red}, 0, -60, [], 3.4),
    ]
    stamp = group("Stamp", members, 700, 700, printed, "multiply", 0.92)
    stamp["placement"]["rotation_deg"] = -11
    return piece_of_today(
        "Harbour office, round stamp",
        [1400, 1400],
        textured(shelf, "Ticket stock", [], scale=0.9),
        [stamp],
    )


def lit_card(shelf):
    """A card for a web page: pools of light that shine through a field of dots."""
    dots = shelf.texture("Dot field")
    through = [
        step("wear", texture=dots, black=0.3, white=0.7, invert=True, placement=place(0, 0, 0.9)),
    ]
    pools = {"kind": "light", "width": px(1200), "height": px(630), "pools": [
        {"id": "one", "colour": EMBER, "strength": 0.95, "blur": 0.6,
         "points": [[0.42, 0.18], [0.9, 0.05], [0.5, 0.6]]},
        {"id": "two", "colour": GOLD, "strength": 0.9, "blur": 0.7,
         "points": [[0.55, 0.02], [0.82, 0.0], [0.55, 0.26]]},
        {"id": "three", "colour": "#3f8f8f", "strength": 0.8, "blur": 1.0, "form": "stroke",
         "width": 0.14, "points": [[-0.9, -0.5], [-0.35, -0.2], [0.1, -0.48], [0.9, -0.42]]},
    ]}  # fmt: skip
    soft = {
        **pools,
        "pools": [{**one, "strength": 0.4 * one["strength"]} for one in pools["pools"]],
    }
    stops = _stops("#0b1420", "#16283a")
    return piece_of_today(
        "Sailings, a lit card",
        [1200, 630],
        {"fill": {"kind": "gradient", "stops": stops, "angle_deg": 160}, "treatment": []},
        [
            mark("Glow", soft, 600, 315, [], mode="screen"),
            mark("Light through dots", pools, 600, 315, through, mode="plus-lighter"),
            mark("", words("Sailings", "fraunces", 150, PAPER, align="left"), 378, 250, []),
            mark(
                "",
                words("tonight and tomorrow", "fraunces", 58, "#9fb4bf", align="left"),
                402,
                372,
                [],
            ),
            mark(
                "",
                words("PELLWICK NIGHT FERRY", "josefin-sans-bold", 26, GOLD, tracking=160),
                274,
                540,
                [],
            ),
        ],
        [step("grain", "soft-light", amount=12, size=px(1.5))],
        ppi=144,
    )
