"""Every change to the shelf."""

import math
import re
import threading
from pathlib import Path, PurePath
from tempfile import TemporaryDirectory

import numpy as np
from pydantic import ValidationError

from kilncore.artwork.intake import brought_in
from kilncore.errors import KilnError
from kilncore.measure.histogram import dark_share
from kilncore.model.base import Model
from kilncore.model.faults import fault_words
from kilncore.pixels.reading import is_picture
from kilncore.pixels.vips import as_image
from kilncore.system.files import HALF, write_whole
from kilncore.textures import makers
from kilncore.textures.drawn import drawn
from kilncore.textures.examining import Examined, examined, jpeg, of_planes
from kilncore.textures.making import make_file
from kilnmark.jobs import Stage
from kilnmark.shelf.models import SAMPLED_BY, Making, Texture
from kilnmark.storage import assets, folder_for

MOST_WAITING = 10
TRIAL_PX, TRIALS = 512, threading.BoundedSemaphore(2)


def upload(owner, name: str, data: bytes, **facts) -> Texture:
    """Keep an uploaded picture as it came, or a drawing made safe; UnusableFile, with the reason,
    keeps nothing. facts : whose it is and so on.
    """
    if not is_picture(data):
        drawing = brought_in(data)  # refused in its own words, if it is nothing at all
        data, found = drawing.data, of_planes(drawn(drawing.data).planes)
    else:
        found = examined(data)
    return _kept(owner, _title(name), data, found, **facts)


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
    owner, maker: str, name: str, width: int, height: int, seed: int, settings: dict
) -> Making:
    """Put a texture in line for the kiln. KilnError for settings that the maker does not have, or
    too many in line.
    """
    checked = settings_of(maker, settings)
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
    )


next_making = Making.next_waiting


def run_making(making: Making) -> None:
    """Make a texture that was taken from the line, and put it on the shelf."""

    def make(progress, cancelled):
        with TemporaryDirectory(dir=folder_for("making"), prefix=HALF) as folder:
            target = Path(folder) / "made.png"
            make_file(
                target,
                making.maker,
                making.width,
                making.height,
                making.seed,
                making.settings,
                progress=progress,
                cancelled=cancelled,
            )
            data = target.read_bytes()
        return _made(
            making.owner,
            making.maker,
            making.name,
            making.seed,
            making.settings,
            data,
            examined(data),
        )

    making.work(make, lambda texture: {"texture": texture})


MADE_HERE = {"tiles": True, "credit": "Made here", "licence": "Yours"}
# what follows from how it was made; never what its owner has written about it
MEASURED = (
    *("width", "height", "histogram", "coverage", "contrast", "facts"),
    *("maker", "seed", "settings"),
)


def make(
    owner, maker: str, name: str, width: int, height: int, seed: int, settings: dict
) -> Texture:
    """Make a texture here and now, with all it takes to make it again: for the demo, recipes and
    the command line. What was made so before, by whomever, is taken as it is: it would be the same.
    """
    checked = settings_of(maker, settings)
    known = _made_before(maker, width, height, seed, checked.model_dump())
    if known:
        return _taken(owner, name, known)
    planes = makers.make(maker, width, height, seed, checked)
    data = as_image(np.moveaxis(planes, 0, 2)).pngsave_buffer(compression=4)
    return _made(
        owner,
        maker,
        name or makers.MAKERS[maker].title,
        seed,
        checked.model_dump(),
        data,
        of_planes(planes),
    )


def _made_before(maker: str, width: int, height: int, seed: int, settings: dict) -> Texture | None:
    rows = Texture.objects.filter(maker=maker, seed=seed, width=width, height=height)
    same = (row for row in rows[:MOST_WEIGHED] if row.settings == settings)
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
    owner, maker: str, name: str, seed: int, settings: dict, data: bytes, found: Examined
) -> Texture:
    return _kept(
        owner,
        name,
        data,
        found,
        maker=maker,
        seed=seed,
        settings=settings,
        **MADE_HERE,
    )


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


def trial(maker: str, seed: int, settings: dict) -> bytes:
    """A small one, for looking, as JPEG. A few at a time: each is work for a second."""
    with TRIALS:
        return jpeg(makers.make(maker, TRIAL_PX, TRIAL_PX, seed, settings_of(maker, settings)))


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
