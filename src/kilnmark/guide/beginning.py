"""What a job of the guide is tried on: a piece or a prep of one's own, of what ships."""

from kilncore.document import load
from kilnmark.demo import ART
from kilnmark.demo.describing import mark, piece_of_today, step, textured, words
from kilnmark.demo.printed import ICONS
from kilnmark.demo.scans import SCANS
from kilnmark.demo.textures import TEXTURES
from kilnmark.pieces import actions as pieces
from kilnmark.pieces import bringing
from kilnmark.preps import actions as preps
from kilnmark.recipes import shipped
from kilnmark.shelf import actions as shelf

Where = tuple[str, dict]
SIZE = 1024  # px of a texture that is made for a job: it is there in a second
STOCK, NIGHT, PAINT, CREAM = "#efe6d2", "#14324a", "#b23a1c", "#f1e6cc"
METAL = "#93938c"
FIRST_LOOKS = ("Rubbed print", "Scratched enamel", "Chalky board", "Dry roller")
SCAN = "Hull paint, raw"


def logo(owner) -> Where:
    """A badge that was drawn on paper, on stock, and the looks on it."""
    _recipes(owner)
    row = bringing.bring_in(owner, "badge on paper.jpg", (ART / "badge-on-paper.jpg").read_bytes())
    badge = mark("Badge", row.begun.model_dump(mode="json"), 750, 650, [], 0.8)
    ground = {"fill": {"kind": "colour", "colour": STOCK}}
    piece = piece_of_today("Badge, to be worn", [1500, 1300], ground, [badge])
    return "directions", {"piece_id": _begun(owner, piece)}


def lettering(owner) -> Where:
    """Words on planks, bare."""
    _texture(owner, "Deck paint, rubbed")
    shown = words("ALL\nABOARD", "alfa-slab-one", 330, PAINT, line_spacing=1.0)
    ground = textured(_Own(owner), "Quay planks")
    stack = [mark("", shown, 1000, 700, [])]
    piece = piece_of_today("All aboard, on planks", [2000, 1400], ground, stack)
    return "bench", {"piece_id": _begun(owner, piece)}


def by_hand(owner) -> Where:
    """A number on a painted hull, with a step of dabs that waits for strokes."""
    _texture(owner, "Deck paint, rubbed")
    ground = textured(_Own(owner), "Hull side, painted")
    dabs = step("dabs", colour=METAL, keep_to_art=False)
    stack = [mark("", words("P·12", "alfa-slab-one", 620, CREAM), 1000, 640, [])]
    piece = piece_of_today("Hull, to be gone over", [2000, 1300], ground, stack, [dabs])
    return "bench", {"piece_id": _begun(owner, piece)}


def icons(owner) -> Where:
    """Eight icons, bare, in two rows."""
    _texture(owner, "Deck paint, rubbed")
    marks = [
        mark(
            name.capitalize(),
            _art(owner, name) | {"one_colour": True, "colour": CREAM},
            300 + 600 * (number % 4),
            310 + 580 * (number // 4),
            [],
            3.6,
        )
        for number, name in enumerate(ICONS)
    ]
    ground = {"fill": {"kind": "colour", "colour": NIGHT}}
    piece = piece_of_today("Eight icons, to be worn", [2400, 1200], ground, marks)
    return "bench", {"piece_id": _begun(owner, piece)}


def scan(owner) -> Where:
    """A raw scan that is begun to be prepared."""
    known = owner.textures.filter(name=SCAN, binned=None).first()
    texture = known or shelf.upload(owner, f"{SCAN}.jpg", SCANS[SCAN](), source="Kilnmark's guide")
    return "prep", {"prep_id": preps.start(texture).pk}


class _Own:
    """An owner's textures by the names that ship."""

    def __init__(self, owner):
        self.owner = owner

    def texture(self, name: str) -> dict:
        """The reference to it."""
        return _texture(self.owner, name).ref


def _texture(owner, name: str):
    """Of that name on the shelf; made, if there is none."""
    known = owner.textures.filter(name=name, binned=None).first()
    if known is not None:
        return known
    _, maker, _, seed, settings = next(one for one in TEXTURES if one[0] == name)
    return shelf.make(owner, maker, name, SIZE, SIZE, seed, settings)


def _recipes(owner) -> None:
    """A few of those that ship, if there is none at all."""
    if not owner.recipes.exists():
        shipped.give(owner, names=FIRST_LOOKS)


def _art(owner, name: str) -> dict:
    row = bringing.bring_in(owner, f"{name}.svg", (ART / f"{name}.svg").read_bytes())
    return row.art.model_dump(mode="json")


def _begun(owner, described: dict):
    return pieces.start(owner, load(described)).pk
