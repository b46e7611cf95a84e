"""The wordmark in nine looks; and a poster whose words were changed after they were worn."""

from kilncore import edits
from kilncore.document import Piece, load
from kilnmark.demo.describing import mark, piece, piece_of_today, place, px, step, textured, words
from kilnmark.pieces import actions
from kilnmark.pieces.holding import holding
from kilnmark.recipes.actions import edits_of
from kilnmark.recipes.models import Recipe
from kilnmark.recipes.shipped import LOOKS

WIDE, TALL = 3000, 1500
FLOORS = {"least_stroke": {"value": 0.15, "unit": "mm"}, "least_part": 0.5}


def _aimed(shelf, texture: str, share: float, strength: float = 1.0, **more) -> dict:
    asked = {"aim": True, "share": share, "contrast": 0.12, **FLOORS, **more}
    return step("wear", strength=strength, texture=shelf.texture(texture), **asked)


def _by_hand(shelf) -> dict[str, list[dict]]:
    """Three looks more than those that ship."""
    return {
        "Flaked to red lead": [
            _aimed(
                shelf,
                "Deck paint, rubbed",
                0.16,
                bias=0.5,
                specks=0.35,
                under="colour",
                under_colour="#a33b20",
                rim=0.5,
                rim_width=px(2),
                placement=place(60, 20, 0.5),
            ),
            _aimed(shelf, "Mailbag specks", 0.04, placement=place(-40, 90, 0.6)),
        ],
        "Salt in lights and darks": [
            step(
                "coat",
                "normal",
                0.9,
                texture=shelf.texture("Quay wall"),
                way="both",
                in_lights=0.9,
                in_darks=0.35,
                placement=place(0, 0, 0.5),
            ),
            _aimed(shelf, "Deck paint, rubbed", 0.1, bias=0.8, placement=place(-210, 60, 0.4)),
        ],
        "Worn from the middle": [
            _aimed(
                shelf,
                "Mailbag specks",
                0.22,
                bias=-0.8,
                specks=-0.4,
                placement=place(30, 40, 0.7),
            ),
            step("soften", radius=px(0.6)),
        ],
    }


def nine(owner, shelf):
    """Three by three on ticket stock, each with its name below it."""
    names = [*LOOKS, *_by_hand(shelf)]
    marks = []
    for number, name in enumerate(names):
        x, y = 500 + 1000 * (number % 3), 215 + 500 * (number // 3)
        marks.append(mark(f"Pellwick, {name.lower()}", _wordmark(), x, y, []))
        label = words(name, "josefin-sans-bold", 44, "#4b4a45", tracking=40)
        marks.append(mark("", label, x, y + 185, []))
    described = piece(
        "Pellwick in nine looks", [WIDE, TALL], textured(shelf, "Ticket stock"), marks
    )
    document = load(described)
    recipes = {row.shipped: row for row in Recipe.objects.filter(owner=owner).exclude(shipped="")}
    for number, name in enumerate(names):
        part = document.stack[2 * number].id
        document = edits.apply(document, _treated(shelf, document, part, name, recipes))
    return actions.start(owner, document)


def _treated(shelf, document: Piece, part: str, name: str, recipes: dict) -> list[dict]:
    if name in recipes:
        return edits_of(recipes[name], document, part)
    return [{"op": "add_steps", "part": part, "steps": _by_hand(shelf)[name]}]


def _wordmark() -> dict:
    return words("PELLWICK", "alfa-slab-one", 140, "#23486b", tracking=10)


def reworded(owner, shelf):
    """Its wear was solved for other words; its points stay until they are solved again."""
    worn = [
        _aimed(shelf, "Deck paint, rubbed", 0.18, bias=0.3, placement=place(80, 40, 0.7)),
        _aimed(shelf, "Mailbag specks", 0.05, specks=-0.3, placement=place(0, 120, 0.8, 25)),
        step("soften", radius=px(0.5)),
    ]
    big = words("LAST\nBOAT\nHOME", "anton", 560, "#f1e6cc", line_spacing=0.98, align="left")
    small = words("PELLWICK NIGHT FERRY  BERTH 4", "josefin-sans-bold", 74, "#f0c25e", tracking=90)
    stops = [{"at": 0, "colour": "#1c3d54"}, {"at": 1, "colour": "#0c1a28"}]
    ground = {
        "fill": {"kind": "gradient", "stops": stops, "angle_deg": 175},
        "treatment": [step("coat", "soft-light", 0.9, texture=shelf.texture("Quay wall"))],
    }
    grained = [step("grain", "overlay", amount=8, size=px(1.5))]
    described = piece_of_today(
        "Last boat poster, re-worded",
        [1748, 2480],
        ground,
        [mark("", big, 850, 1080, worn), mark("", small, 874, 2270, worn[1:])],
        grained,
    )
    made = actions.start(owner, load(described))
    path = [*made.document.way_to(made.document.stack[0].id), "art", "text"]
    change = [{"op": "set", "path": path, "value": "LAST\nBOAT\nSOUTH"}]
    return actions.change(made, 1, holding(made.document, change), "Words")
