"""The faces that ship with Kilnmark, each under the SIL Open Font License (its text lies beside
it).

A face more is its file and its licence in `kilncore/fonts/`, and its line here.
"""

from dataclasses import dataclass
from pathlib import Path

FOLDER = Path(__file__).parent.parent / "fonts"


@dataclass(frozen=True)
class Shipped:
    """name : of its file. sort : what it is, in trade words."""

    name: str
    title: str
    sort: str

    @property
    def path(self) -> Path:
        """Of its file."""
        return FOLDER / f"{self.name}.ttf"


SHIPPED = (
    Shipped("alfa-slab-one", "Alfa Slab One", "fat slab serif"),
    Shipped("rokkitt-extrabold", "Rokkitt Extra Bold", "slab serif"),
    Shipped("saira-stencil-one", "Saira Stencil One", "stencil"),
    Shipped("anton", "Anton", "condensed grotesque"),
    Shipped("josefin-sans-bold", "Josefin Sans Bold", "geometric sans"),
    Shipped("rye", "Rye", "wood type"),
    Shipped("bungee-inline", "Bungee Inline", "inline, sign"),
    Shipped("limelight", "Limelight", "theatre display"),
    Shipped("abril-fatface", "Abril Fatface", "fat modern"),
    Shipped("fraunces", "Fraunces", "soft old style, variable"),
    Shipped("lobster", "Lobster", "bold script"),
    Shipped("mr-dafoe", "Mr Dafoe", "brush script"),
    Shipped("pacifico", "Pacifico", "sign-painter's script"),
    Shipped("fredoka-semibold", "Fredoka Semi Bold", "rounded sign letters"),
    Shipped("courier-prime-bold", "Courier Prime Bold", "typewriter"),
    Shipped("noto-sans-bold", "Noto Sans Bold", "text: Latin, Greek, Cyrillic, Devanagari"),
    Shipped("rubik-bold", "Rubik Bold", "text: Latin, Cyrillic, Hebrew, Arabic"),
)
FONTS = {one.name: one.title for one in SHIPPED}
STAND_INS = ("noto-sans-bold", "rubik-bold")  # for characters that the chosen face lacks
