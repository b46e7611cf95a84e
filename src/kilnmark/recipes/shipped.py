"""The recipes that ship, with the textures that they are made with: looks worn, printed, and in the
surface.

Sizes are of lettering 300 px tall at 300 ppi, and are scaled with the mark.
"""

from kilncore.document import Step
from kilncore.recipe import Recipe as Treatment
from kilnmark.recipes.models import Recipe
from kilnmark.shelf import actions as shelf

UNIT_PX, PPI, SIDE = 300.0, 300.0, 1536
TEXTURES = {
    # name: (maker, seed, settings)
    "Bleached paint": (
        "grunge",
        61,
        {"amount": 0.55, "patches": 0.6, "specks": 0.3, "scratches": 0.05},
    ),
    "Rubbed ink": (
        "grunge",
        19,
        {"amount": 0.42, "patches": 0.3, "specks": 0.6, "scratches": 0.1},
    ),
    "Enamel scratches": (
        "grunge",
        88,
        {"amount": 0.04, "patches": 0.2, "specks": 0.1, "scratches": 1.0},
    ),
    "Toner dust": ("grunge", 30, {"amount": 0.1, "patches": 0.1, "specks": 1.0, "scratches": 0.0}),
    "Roller streaks": (
        "planks",
        77,
        {"board_px": 768, "weather": 0.6, "knots": 0.0},
    ),
    "Board grain": ("concrete", 12, {"pinholes": 0.6, "cracks": 0.1}),
}
FLOORS = {"least_stroke": {"value": 0.15, "unit": "mm"}, "least_part": 0.55}


def _px(value: float) -> dict:
    return {"value": value, "unit": "px"}


def _wear(texture: str, share: float, **more) -> dict:
    params = {"aim": True, "share": share, "contrast": 0.15, **FLOORS, **more}
    return {"kind": "wear", "texture": texture, "params": params}


def _place(x: float, y: float, scale: float, turn: float = 0.0) -> dict:
    return {"placement": {"x": _px(x), "y": _px(y), "scale": scale, "rotation_deg": turn}}


def _other(kind: str, texture: str = "", mode: str = "normal", strength: float = 1.0, **params):
    landing = {"mode": mode, "strength": strength}
    return {"kind": kind, "texture": texture, "params": params, "landing": landing}


def _through(share: float, soft: float, strength: float = 0.95, **params) -> dict:
    """The darkest share of the surface over the mark."""
    return _other("surface_through", strength=strength, share=share, soft=soft, **params)


def _all_through(mode: str, strength: float, **params) -> dict:
    """The whole of the surface, blended into the mark."""
    return _other("surface_through", "", mode, strength, shows="all", **params)


def _follow(way: str, px: float, smooth: float, **more) -> dict:
    return _other("follow", way=way, across=_px(px), down=_px(px), smooth=_px(smooth), **more)


MATCHED = _other("tones", strength=0.4, match=True)
AS_SOFT = _other("soften", match=True, radius=_px(0.8))
LOOKS = {
    "Sun-bleached sign": (
        "worn",
        "Paint gone pale, flaking from its edges.",
        (
            _other("tones", lift=0.14, lower=0.96, saturation=0.62, contrast=-0.08),
            _wear("Bleached paint", 0.2, bias=0.35, specks=0.3, **_place(120, 40, 0.62)),
            _wear("Rubbed ink", 0.05, specks=-0.3, **_place(-90, 200, 0.5, 35)),
            _other("coat", "Board grain", "soft-light", 0.9, **_place(0, 0, 0.6)),
        ),
    ),
    "Rubbed print": (
        "worn",
        "Ink rubbed thin by many hands.",
        (
            _wear("Rubbed ink", 0.16, thin=0.5, specks=-0.2, **_place(40, -60, 0.5)),
            _wear("Toner dust", 0.05, **_place(-140, 90, 0.45, 70)),
            _other("soften", radius=_px(0.5)),
        ),
    ),
    "Scratched enamel": (
        "worn",
        "Scratched to the undercoat, chipped to the metal.",
        (
            _wear(
                "Enamel scratches",
                0.05,
                under="colour",
                under_colour="#b9b2a3",
                rim=-0.45,
                rim_width=_px(1),
                **_place(30, 80, 0.6, -20),
            ),
            _wear(
                "Bleached paint",
                0.09,
                bias=0.75,
                specks=0.45,
                contrast=0.06,
                under="colour",
                under_colour="#4a2d20",
                rim=0.35,
                rim_width=_px(2),
                **_place(-200, 130, 0.42, 60),
            ),
            _other("coat", "Board grain", "soft-light", 0.6, **_place(50, 20, 0.5)),
        ),
    ),
    "Photocopied": (
        "printed",
        "Black, dusty and a little broken, from the office machine.",
        (
            _other("tones", saturation=0.0, contrast=0.55, lift=0.05),
            _wear("Toner dust", 0.07, contrast=0.08, **_place(60, 20, 0.4)),
            _wear("Board grain", 0.06, specks=-0.8, contrast=0.2, **_place(-50, 70, 0.55, 12)),
            _other("grain", mode="overlay", amount=10, size=_px(1.4)),
        ),
    ),
    "Dry roller": (
        "printed",
        "Too little ink on the roller: streaks along its way.",
        (
            _wear("Roller streaks", 0.2, contrast=0.12, **_place(0, 35, 0.5)),
            _wear("Rubbed ink", 0.05, specks=-0.4, **_place(-160, 30, 0.5, 15)),
            _other("soften", radius=_px(0.5)),
        ),
    ),
    "Chalky board": (
        "printed",
        "Chalk on a dark board: grain all through, the middle open.",
        (
            _wear("Board grain", 0.3, specks=-0.9, contrast=0.3, bias=-0.2, **_place(10, 5, 0.5)),
            _wear("Toner dust", 0.06, **_place(-90, -40, 0.4, 50)),
            _other("soften", radius=_px(0.6)),
        ),
    ),
    "Painted on planks": (
        "surface",
        "Sign paint that sank into the grain and the gaps of the boards.",
        (
            _wear("Bleached paint", 0.1, specks=-0.4, bias=0.2, **_place(60, 30, 0.5)),
            MATCHED,
            _follow("slope", 4, 1.5),
            _through(0.1, 0.06, contrast=1.1),
            _all_through("soft-light", 0.8, contrast=1.0, saturation=0.0, lightness=-0.06),
            AS_SOFT,
        ),
    ),
    "Sprayed on concrete": (
        "surface",
        "A stencil and a can: soft at its edges, speckled, the wall's own relief in it.",
        (
            _other("soften", radius=_px(2.2)),
            _wear("Toner dust", 0.04, contrast=0.4, **_place(-40, 25, 0.4)),
            MATCHED,
            _follow("tone", 5, 1.2),
            _all_through("soft-light", 1.0, contrast=1.3, saturation=0.0, lightness=-0.14),
            _through(0.04, 0.14, 0.9, contrast=1.1),
            _other("grain", strength=0.5, match=True),
        ),
    ),
    "Chalked on brick": (
        "surface",
        "Chalk takes on what stands out, and leaves the pits and the joints.",
        (
            _wear("Board grain", 0.22, specks=-0.9, contrast=0.3, **_place(20, 10, 0.45)),
            _follow("tone", 3, 1),
            _through(0.1, 0.03, 0.9, contrast=1.05),
            _all_through("soft-light", 0.6, contrast=1.3, saturation=0.3, lightness=0.2),
            _other("soften", radius=_px(0.7)),
            _other("grain", strength=0.5, match=True),
        ),
    ),
    "Faded on canvas": (
        "surface",
        "Dyed long ago: pale, bent with the folds, the weave all through it.",
        (
            _other("tones", lift=0.1, saturation=0.72, contrast=-0.1),
            _wear("Bleached paint", 0.06, contrast=0.5, specks=0.4, **_place(-80, 60, 0.8)),
            _follow("tone", 7, 4),
            _all_through("normal", 0.28, contrast=1.1),
            _all_through("soft-light", 1.0, contrast=1.15, saturation=0.2, lightness=-0.04),
            AS_SOFT,
            _other("grain", strength=0.5, match=True),
        ),
    ),
    "Stencilled on corrugated sheet": (
        "surface",
        "Bent over every ridge, thin in the troughs, chipped where it stands out.",
        (
            _wear("Rubbed ink", 0.08, contrast=0.1, **_place(50, -30, 0.45)),
            MATCHED,
            _follow("slope", 9, 3),
            _all_through("hard-light", 0.5, contrast=1.1, saturation=0.0),
            _through(0.08, 0.2, 0.85, contrast=1.0),
            AS_SOFT,
        ),
    ),
}


def missing(owner) -> list[str]:
    """The names of those that an owner has never had."""
    known = set(Recipe.objects.filter(owner=owner).values_list("shipped", flat=True))
    return [name for name in LOOKS if name not in known]


def give(owner, tell=lambda text: None, names: tuple[str, ...] | None = None) -> int:
    """An owner those that are missing, of the names or of all, with their textures; how many. Each
    texture takes a second or two.
    """
    wanted = [name for name in missing(owner) if names is None or name in names]
    needed = {one["texture"] for name in wanted for one in LOOKS[name][2] if one.get("texture")}
    refs = {name: _texture(owner, name, tell).ref for name in TEXTURES if name in needed}
    for name in reversed(wanted):
        group, note, steps = LOOKS[name]
        made = tuple(_step(one, number, refs) for number, one in enumerate(steps))
        treatment = Treatment(steps=made, unit_px=UNIT_PX, ppi=PPI)
        Recipe.objects.create(
            owner=owner,
            name=name,
            note=note,
            group=group,
            shipped=name,
            stored=treatment.model_dump(mode="json"),
        )
    return len(wanted)


def _texture(owner, name: str, tell):
    found = owner.textures.filter(name=name, maker=TEXTURES[name][0]).first()
    if found is not None:
        return found
    tell(f"Making the texture “{name}”")
    maker, seed, settings = TEXTURES[name]
    return shelf.make(owner, maker, name, SIDE, SIDE, seed, settings)


def _step(told: dict, number: int, refs: dict) -> Step:
    texture = {"texture": refs[told["texture"]]} if told.get("texture") else {}
    landing = {"landing": told["landing"]} if "landing" in told else {}
    params = {**told["params"], **texture}
    return Step.model_validate({"kind": told["kind"], "params": params, "seed": number} | landing)
