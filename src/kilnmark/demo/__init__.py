"""The demo world: the Pellwick Night Ferry, a made-up overnight line between made-up islands."""

from dataclasses import dataclass
from pathlib import Path

from django.contrib.auth import get_user_model

from kilncore.document import load
from kilnmark.demo.by_hand import hull_plate
from kilnmark.demo.looks import nine, reworded
from kilnmark.demo.scans import CLEANED, SCANS
from kilnmark.demo.textures import TEXTURES
from kilnmark.demo.world import PIECES
from kilnmark.pieces import actions as piece_actions
from kilnmark.pieces import bringing
from kilnmark.pieces.cards import draw_all, known
from kilnmark.pieces.models import Piece
from kilnmark.preps import actions as prep_actions
from kilnmark.recipes.shipped import give
from kilnmark.shelf import actions as shelf_actions

ART = Path(__file__).parent / "art"
WHOSE = {
    "credit": "Pellwick drawing office",
    "licence": "Own work",
    "source": "Scanned at the harbour",
    "tags": "scan, raw",
}
PREPARED = {
    "Customs house wall, raw": ("Specks only", "Mask from a concrete photo"),
    "Hull paint, raw": ("Big flakes",),
    "Blotting paper, raw": ("Paper grain",),
}
NAME, PASSWORD = "purser", "night-ferry"


@dataclass(frozen=True)
class Account:
    name: str
    password: str


def set_up() -> Account:
    """Make what is missing of the demo world; what is there, and what was done to it, stays."""
    user, fresh = get_user_model().objects.get_or_create(username=NAME)
    if fresh:
        user.set_password(PASSWORD)
        user.save()
    if not Piece.objects.filter(owner=user).exists():
        give(user, lambda text: print(text, flush=True))
        _fill(user)
    heads = [piece.head for piece in user.pieces.here().select_related("head")]
    if any(known(head) is None for head in heads):
        print("Drawing the pieces", flush=True)
        draw_all(heads)
    return Account(NAME, PASSWORD)


def _fill(user) -> None:
    known = {t.name: t for t in user.textures.all()}
    textures = {}
    for name, maker, size, seed, settings in TEXTURES:
        if name not in known:
            print(f"Making the texture “{name}”", flush=True)
        textures[name] = known.get(name) or shelf_actions.make(
            user, maker, name, *size, seed, settings
        )
    for name, scan in SCANS.items():
        if name not in known:
            _bring_in(user, name, scan())
    artworks = {}
    for path in sorted(p for p in ART.iterdir() if p.suffix in (".svg", ".jpg")):
        artworks[path.stem] = bringing.bring_in(user, path.name, path.read_bytes())
    shelf = _Shelf(textures, artworks)
    for make in (reworded, nine, hull_plate):
        make(user, shelf)
    for describe in PIECES:
        piece_actions.start(user, load(describe(shelf)))


def _bring_in(user, name: str, data: bytes) -> None:
    """A raw scan with its preps, the one to look at last."""
    texture = shelf_actions.upload(user, f"{name}.jpg", data, **WHOSE)
    for like in PREPARED.get(name, ()):
        prep_actions.start(texture, like=like)
    if name in CLEANED:
        prep_actions.keep(texture, "specks, cleaned", CLEANED[name])


class _Shelf:
    """What the demo pieces are put together from."""

    def __init__(self, textures, artworks):
        self._textures, self._artworks = textures, artworks

    def texture(self, name: str) -> dict:
        return self._textures[name].ref

    def art(self, name: str) -> dict:
        return self._artworks[name].art.model_dump(mode="json")
