"""Every change to named preps."""

from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np
from django.db import transaction

from kilncore.edits.chains import changed
from kilncore.errors import KilnError
from kilncore.model.base import new_id
from kilncore.output import texture_files
from kilncore.prep.chain import makes_seamless
from kilncore.prep.texture_ref import TextureRef
from kilncore.system.files import HALF
from kilncore.textures.prep import chain_of
from kilnmark.pieces import actions as pieces
from kilnmark.pieces import textures
from kilnmark.pieces.textures import Use
from kilnmark.preps.models import Prep
from kilnmark.preps.shipped import SHIPPED, fresh
from kilnmark.shelf import actions as shelf
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets, folder_for

MOST_PREPS, MOST_PAST, MOST_TOKENS = 40, 100, 60
FIRST = "plain"


def start(texture: Texture, name: str = "", like: str = "") -> Prep:
    """A new prep of a texture. like : the name of one that ships, or the id of an own one; empty,
    nothing is done to it.
    """
    if texture.preps.here().count() >= MOST_PREPS:
        raise KilnError(f"A texture has {MOST_PREPS} preps at most. Throw some of them away first.")
    operations, title = _like(texture.owner, like)
    stored = _stored(operations)
    return Prep.objects.create(
        owner=texture.owner,
        texture=texture,
        name=_free(texture, (name or title or FIRST).strip()[:60]),
        stored=stored,
    )


def keep(texture: Texture, name: str, operations: tuple[dict, ...]) -> Prep:
    """A new prep of these operations."""
    prep = start(texture, name)
    Prep.objects.filter(pk=prep.pk).update(stored=_stored(list(operations)))
    return prep


def as_texture(ref: TextureRef, source: Texture, name: str) -> Texture:
    """What a chain makes of a texture, as a texture of its own, whose it is and owed as before."""
    planes = assets().texture(ref).planes
    tiles = ref.wraps or makes_seamless(ref.chain)
    told = {one: getattr(source, one) for one in ("credit", "licence", "source", "owed", "tags")}
    with TemporaryDirectory(dir=folder_for("saving"), prefix=HALF) as folder:
        path = Path(folder) / "texture.png"
        texture_files.write(planes, "png16" if planes.dtype == np.uint16 else "png8", path, 300)
        data = path.read_bytes()
    return shelf.keep(source.owner, name.strip() or f"{source.name}, taken", data, tiles, **told)


def first_of(texture: Texture) -> Prep:
    """The prep that was last worked on; a new one if there is none."""
    return texture.preps.here().order_by("-changed").first() or start(texture)


def _like(owner, like: str) -> tuple[list[dict], str]:
    if not like:
        return [], ""
    if like in SHIPPED:
        return fresh(like), like.lower()
    own = next((one for one in owner.preps.all() if str(one.id) == like), None)
    if own is None:
        raise KilnError("That prep is no longer there.", like[:60])
    return own.stored, own.name


def _stored(operations: list[dict]) -> list[dict]:
    chain = chain_of([{**one, "id": new_id()} for one in operations])
    return [one.model_dump(mode="json") for one in chain]


def _free(texture: Texture, name: str) -> str:
    taken = set(texture.preps.values_list("name", flat=True))
    number, found = 2, name
    while found in taken:
        found, number = f"{name[:54]} {number}", number + 1
    return found


def rename(prep: Prep, name: str) -> None:
    """Another name."""
    name = name.strip()[:60]
    if not name:
        raise KilnError("A prep needs a name.")
    if name != prep.name:
        Prep.objects.filter(pk=prep.pk).update(name=_free(prep.texture, name))


def change(prep: Prep, version: int, changes: list[dict], label: str, token: str | None) -> None:
    """Apply edits to its newest version; Stale if `version` is not that one."""

    def moved(row: Prep) -> None:
        chain = [one.model_dump(mode="json") for one in changed(row.chain, changes)]
        if chain != row.stored:
            row.past = [*row.past, [label[:120], row.stored]][-MOST_PAST:]
            row.stored, row.future = chain, []

    _move(prep, version, token, moved)


def undo(prep: Prep, version: int, token: str | None) -> None:
    """Back by one state."""

    def moved(row: Prep) -> None:
        if not row.past:
            raise KilnError("There is nothing to undo: this is how the prep began.")
        label, chain = row.past.pop()
        row.future = [*row.future, [label, row.stored]]
        row.stored = chain

    _move(prep, version, token, moved)


def redo(prep: Prep, version: int, token: str | None) -> None:
    """Forth again."""

    def moved(row: Prep) -> None:
        if not row.future:
            raise KilnError("There is nothing to redo.")
        label, chain = row.future.pop()
        row.past = [*row.past, [label, row.stored]]
        row.stored = chain

    _move(prep, version, token, moved)


@transaction.atomic
def _move(prep: Prep, version: int, token: str | None, moved: Callable[[Prep], None]) -> None:
    row = Prep.objects.select_related("texture").get(pk=prep.pk)
    if token and token in row.tokens:
        return
    if row.version != version:
        raise pieces.Stale
    moved(row)
    row.version += 1
    row.tokens = [*row.tokens, *filter(None, [token])][-MOST_TOKENS:]
    row.save()


@transaction.atomic
def everywhere(ref: TextureRef, name: str, uses: list[Use]) -> int:
    """What prepares a texture, in every one of these uses: one state, which can be undone, in each
    piece; on how many. name : of the prep, in what the change is called.
    """
    chain = [one.model_dump(mode="json") for one in ref.chain]
    values = {"chain": chain, "prep": ref.prep}
    return textures.everywhere(uses, values, f"Prep “{name}” in all uses")
