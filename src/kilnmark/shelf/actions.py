"""Every change to the shelf."""

import math
import re
from pathlib import Path, PurePath
from tempfile import TemporaryDirectory

import numpy as np
from pydantic import ValidationError

from kilncore.artwork.intake import brought_in
from kilncore.errors import KilnError, UnusableFile
from kilncore.measure.histogram import dark_share
from kilncore.model.base import Model
from kilncore.model.faults import fault_words
from kilncore.pixels.reading import is_picture
from kilncore.pixels.vips import as_image
from kilncore.system.files import HALF, write_whole
from kilncore.textures import makers
from kilncore.textures.drawn import drawn
from kilncore.textures.examining import Examined, examined, of_planes
from kilncore.textures.makers import drawings_in
from kilncore.textures.makers.base import check_size
from kilncore.textures.making import make_files
from kilnmark.jobs import Stage
from kilnmark.pieces.textures import everywhere, uses_of
from kilnmark.shelf.models import SAMPLED_BY, Making, Texture
from kilnmark.storage import assets, folder_for

MOST_WAITING = 10
NO_TEXTURE = "A texture is a picture or an SVG. Bring a PDF onto a piece, as a mark."


def upload(owner, name: str, data: bytes, **facts) -> Texture:
    """Keep an uploaded picture as it came, or a drawing made safe; UnusableFile, with the reason,
    keeps nothing. facts : whose it is and so on.
    """
    if not is_picture(data):
        drawing = brought_in(data)  # refused in its own words, if it is nothing at all
        if drawing.kind != "vector":
            raise UnusableFile(NO_TEXTURE)
        data, found = drawing.data, of_planes(drawn(drawing.data).planes)
    else:
        found = examined(data)
    return _kept(owner, _title(name), data, found, **facts)


def keep(owner, name: str, data: bytes, tiles: bool, **facts) -> Texture:
    """A picture that was made here of another one, as a texture. tiles : whether it has no seam."""
    return _kept(owner, name, data, examined(data), tiles=tiles, **facts)


def _title(name: str) -> str:
    """A file's name in words."""
    return " ".join(re.split(r"[\s_-]+", PurePath(name).stem)).strip()


def measure_anew() -> int:
    """Measure the textures that are not, or were by an earlier version; how many. What cannot be
    read any more stays as it is.
    """
    count = 0
    for texture in Texture.objects.all():
        if texture.measured:
            continue
        try:
            planes = assets().source(texture.hash).planes
            found = of_planes(planes)
        except KilnError:
            continue
        write_whole(_sample_path(texture.hash), found.sample)
        write_whole(_sample_path(texture.hash, "span"), found.span)
        Texture.objects.filter(pk=texture.pk).update(facts=found.facts)
        count += 1
    return count


def ask_for(
    owner,
    maker: str,
    name: str,
    width: int,
    height: int,
    seed: int,
    settings: dict,
    *,
    ppi: int = 300,
    maps: tuple[str, ...] = (),
    replaces: Texture | None = None,
) -> Making:
    """Put a texture in line for the kiln. maps : kept beside what it looks like. replaces : the one
    in whose place it comes on every piece. KilnError for settings that the maker does not have, or
    too many in line.
    """
    checked = settings_of(maker, settings)
    check_size(width, height, ppi)
    drawings_of(owner, checked)
    if owner.makings.filter(stage__in=[Stage.WAITING, Stage.RUNNING]).count() >= MOST_WAITING:
        raise KilnError(
            f"{MOST_WAITING} textures are being made already. Let some of them finish first."
        )
    return Making.objects.create(
        owner=owner,
        maker=maker,
        name=name or makers.MAKERS[maker].title,
        width=width,
        height=height,
        seed=seed,
        settings=checked.model_dump(),
        ppi=ppi,
        maps=[one for one in makers.MAKERS[maker].gives[1:] if one in maps],
        replaces=replaces,
    )


next_making = Making.next_waiting


def run_making(making: Making) -> None:
    """Make a texture that was taken from the line, and put it on the shelf with its maps; in the
    place of another one, if it was asked for so.
    """
    others = siblings(making.replaces) if making.replaces else {}
    wanted = ["colour", *dict.fromkeys([*making.maps, *others])]
    wanted = [one for one in wanted if one in makers.MAKERS[making.maker].gives]

    def make(progress, cancelled):
        drawings = drawings_of(making.owner, settings_of(making.maker, making.settings))
        with TemporaryDirectory(dir=folder_for("making"), prefix=HALF) as folder:
            targets = {name: Path(folder) / f"{name}.png" for name in wanted}
            make_files(
                targets,
                making.maker,
                making.width,
                making.height,
                making.seed,
                making.settings,
                ppi=making.ppi,
                drawings=drawings,
                progress=progress,
                cancelled=cancelled,
            )
            read = {name: target.read_bytes() for name, target in targets.items()}
        how = {name: getattr(making, name) for name in ("maker", "seed", "settings", "ppi")}
        kept = {
            name: _made(making.owner, making.name, data, examined(data), of_map=name, **how)
            for name, data in read.items()
        }
        for name, old in others.items():
            _exchanged(old, kept.get(name))
        return kept["colour"]

    making.work(make, lambda texture: {"texture": texture})


def drawings_of(owner, settings: Model) -> dict[str, bytes]:
    """The drawings that a maker's settings name, by hash; KilnError for one that is not its
    owner's.
    """
    named = drawings_in(settings)
    rows = owner.artworks.filter(hash__in=named, kind="vector")
    found = {row.hash: assets().data(row.hash) for row in rows}
    if set(found) != named:
        raise KilnError("That drawing is not among your artworks. Choose another one.")
    return found


def siblings(texture: Texture) -> dict[str, Texture]:
    """The maps on its owner's shelf that were made together with a texture, by name."""
    rows = texture.owner.textures.filter(maker=texture.maker, seed=texture.seed)
    return {row.map: row for row in rows[:MOST_WEIGHED] if row.made == texture.made}


def _exchanged(old: Texture, new: Texture | None) -> None:
    """On every piece the new one in the place of the old one."""
    if new is None or new.hash == old.hash:
        return
    label = f"“{old.name}” made anew"
    everywhere(uses_of(old.owner, old.hash), {"hash": new.hash}, label)


MADE_HERE = {"tiles": True, "credit": "Made here", "licence": "Yours"}
# what follows from how it was made; never what its owner has written about it
MEASURED = (
    *("width", "height", "histogram", "coverage", "contrast", "facts"),
    *("maker", "seed", "settings", "ppi", "map", "revision"),
)


def make(
    owner, maker: str, name: str, width: int, height: int, seed: int, settings: dict
) -> Texture:
    """Make a texture here and now, with all it takes to make it again: for the demo, recipes and
    the command line. What was made so before, by whomever, is taken as it is: it would be the same.
    """
    checked = settings_of(maker, settings)
    how = {"maker": maker, "seed": seed, "settings": checked.model_dump(), "ppi": 300}
    known = _made_before({**how, "width": width, "height": height})
    if known:
        return _taken(owner, name, known)
    planes = makers.make(maker, width, height, seed, checked)
    data = as_image(np.moveaxis(planes, 0, 2)).pngsave_buffer(compression=4)
    return _made(owner, name, data, of_planes(planes), of_map="colour", **how)


def _made_before(how: dict) -> Texture | None:
    revision = makers.MAKERS[how["maker"]].revision
    asked = {name: value for name, value in how.items() if name != "settings"}
    rows = Texture.objects.filter(map="colour", revision=revision, **asked)
    same = (row for row in rows[:MOST_WEIGHED] if row.settings == how["settings"])
    return next((row for row in same if assets().path(row.hash).exists()), None)


def _taken(owner, name: str, known: Texture) -> Texture:
    """The same texture, on another shelf."""
    facts = MADE_HERE | {field: getattr(known, field) for field in MEASURED}
    named = name[:80] or makers.MAKERS[known.maker].title
    texture, fresh = Texture.objects.get_or_create(
        owner=owner, hash=known.hash, defaults={"name": named, **facts}
    )
    if not fresh and texture.binned:
        texture.binned = None
        texture.save()
    return texture


def settings_of(maker: str, settings: dict) -> Model:
    """What a maker is told; KilnError for what it does not have."""
    if maker not in makers.MAKERS:
        raise KilnError("There is no such maker.", maker)
    try:
        return makers.MAKERS[maker].settings.model_validate(settings)
    except ValidationError as error:
        raise KilnError(
            f"This maker cannot be set so: {fault_words(error)}.", repr(settings)[:200]
        ) from error


def _made(
    owner, name: str, data: bytes, found: Examined, *, maker: str, of_map: str, **how
) -> Texture:
    used = makers.MAKERS[maker]
    titled = name or used.title
    if of_map != "colour":
        titled = f"{titled[:60]}, {of_map}"
    how |= {"maker": maker, "map": of_map, "revision": used.revision}
    return _kept(owner, titled, data, found, **how, **MADE_HERE)


def _kept(owner, name: str, data: bytes, found: Examined, **facts) -> Texture:
    measured = {
        "width": found.width,
        "height": found.height,
        "histogram": found.histogram,
        "coverage": dark_share(found.histogram),
        "contrast": _deviation(found.histogram),
        "facts": found.facts,
    }
    texture_hash = assets().keep(data)
    write_whole(_sample_path(texture_hash), found.sample)
    write_whole(_sample_path(texture_hash, "span"), found.span)
    texture, fresh = Texture.objects.get_or_create(
        owner=owner,
        hash=texture_hash,
        defaults={"name": name[:80] or "Texture", **measured, **facts},
    )
    if not fresh and texture.binned:
        texture.binned = None
        texture.save()
    return texture


def sample(texture: Texture, way: str = "true") -> bytes:
    """Its middle as JPEG, at true pixels or as its span: made when it came in, made anew if that
    file is gone.
    """
    path = _sample_path(texture.hash, way)
    if not path.exists():
        found = of_planes(assets().source(texture.hash).planes)
        write_whole(path, found.span if way == "span" else found.sample)
    return path.read_bytes()


def _sample_path(texture_hash: str, way: str = "true") -> Path:
    mark = "" if way == "true" else f"-{way}"
    return folder_for("samples") / f"{texture_hash}-{SAMPLED_BY}{mark}.jpg"


def _deviation(counts: list[int]) -> float:
    tones, weights = np.arange(256) / 255, np.array(counts, float)
    mean = np.average(tones, weights=weights)
    return math.sqrt(np.average((tones - mean) ** 2, weights=weights))


MOST_WEIGHED, LARGE_PX = 200, 900


def fitting(owner, kind: str) -> Texture | None:
    """A texture to begin a new step with: for wearing the boldest that suits a mask and is large
    enough, favourites first; the richest calm one for coating.
    """
    shelf = Texture.objects.here().filter(owner=owner)
    if kind == "wear":
        rows = list(shelf[:MOST_WEIGHED])
        suits = lambda row: ("mask" in row.good_for, min(row.width, row.height) >= LARGE_PX)  # noqa: E731
        return max(rows, key=lambda row: (*suits(row), row.favourite, row.contrast), default=None)
    return shelf.filter(contrast__lt=0.2).order_by("-contrast").first() or shelf.first()
