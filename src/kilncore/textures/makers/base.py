"""What a maker is, and how one is added.

A maker is one module: a frozen settings model and a function of (settings, fields) that returns
(C, height, width) uint8 planes, C = 1 grey or 3 colour, or several maps that fit each other. Its
result has no seam, is the same for the same seed, and more pixels show more of it, never a larger
copy. Lengths are px at 300 ppi. Register it with `@maker(...)` and name it in `__init__.py`.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

import numpy as np

from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.model.registry import Registry
from kilncore.system.opencv import cv2
from kilncore.textures.makers.parts.fields import REFERENCE_PPI, Fields

LEAST_PX, MOST_PX, MOST_PIXELS = 64, 8192, 8192 * 8192
LEAST_PPI, MOST_PPI = 72, 1200
GROUPS = (
    "Grain and specks",
    "Damage",
    "Materials",
    "Paper and cloth",
    "Ink",
    "Light and pattern",
)
MAPS = {"colour": "As it looks", "worn": "What is worn away", "height": "Its height"}


@dataclass(frozen=True)
class Maps:
    """Of one piece of a material, each uint8. colour : (C, H, W), as it looks. worn : (1, H, W),
    black where it is worn away. height : (1, H, W), white where it is highest.
    """

    colour: np.ndarray
    worn: np.ndarray | None = None
    height: np.ndarray | None = None

    def named(self, name: str) -> np.ndarray:
        """One of MAPS; KilnError where there is none of that name."""
        planes = getattr(self, name) if name in MAPS else None
        if planes is None:
            raise KilnError("This maker has no such map.", repr(name)[:40])
        return planes


@dataclass(frozen=True)
class Maker:
    """good_for : what its textures serve best, in plain words. make : (settings, fields) -> planes
    or Maps. group : one of GROUPS. starts : settings to start from, by name; the first are its
    defaults. gives : of MAPS. revision : of what it draws: another one draws other pixels from the
    same settings.
    """

    name: str
    title: str
    good_for: str
    settings: type[Model]
    make: Callable
    group: str
    starts: dict[str, dict[str, Any]]
    gives: tuple[str, ...] = ("colour",)
    revision: int = 1


MAKERS = Registry("a maker")
maker = MAKERS.decorator(Maker, "make")


def make(
    name: str,
    width: int,
    height: int,
    seed: int,
    settings: Model | None = None,
    *,
    ppi: float = REFERENCE_PPI,
    drawings: Mapping[str, bytes] = MappingProxyType({}),
    **values: Any,
) -> np.ndarray:
    """(C, height, width) uint8 planes of a seamless texture, as it looks; C = 1 grey, 3 colour.

    width, height : px. seed : 0..2**31 - 1. settings : a maker's model; or its values by name.
    ppi : of the texture, LEAST_PPI..MOST_PPI. drawings : sanitised SVGs by hash, of those that the
    settings name. KilnError for an unknown maker, an impossible size,
    or values that it does not have.
    """
    return maps(name, width, height, seed, settings, ppi=ppi, drawings=drawings, **values).colour


def maps(
    name: str,
    width: int,
    height: int,
    seed: int,
    settings: Model | None = None,
    *,
    ppi: float = REFERENCE_PPI,
    drawings: Mapping[str, bytes] = MappingProxyType({}),
    **values: Any,
) -> Maps:
    """All maps that a maker has of one seed. As `make` else."""
    used = MAKERS.named(name)
    check_size(width, height, ppi)
    told = settings or _settings(used, values)
    times = finer(ppi)
    made = used.make(told, Fields(width * times, height * times, seed, ppi * times, drawings))
    made = made if isinstance(made, Maps) else Maps(made)
    if times == 1:
        return made
    averaged = {one: _averaged(made.named(one), times) for one in used.gives}
    return Maps(**averaged)


def finer(ppi: float) -> int:
    """How many times as fine a texture is drawn: below 300 ppi twice, and averaged, so that what is
    finer than its px is seen as its mean.
    """
    return 1 if ppi >= REFERENCE_PPI else 2


def check_size(width: int, height: int, ppi: float) -> None:
    """KilnError for a size that is not made."""
    sides, most = (width, height), MOST_PIXELS // finer(ppi) ** 2
    if min(sides) < LEAST_PX or max(sides) > MOST_PX or width * height > most:
        raise KilnError(
            f"A made texture must be {LEAST_PX} to {MOST_PX} px each way and "
            f"{most // 10**6} million px at most{'' if finer(ppi) == 1 else ' below 300 ppi'}.",
            f"{width} x {height}",
        )
    if not LEAST_PPI <= ppi <= MOST_PPI:
        raise KilnError(f"A made texture has {LEAST_PPI} to {MOST_PPI} ppi.", f"{ppi}")


def _averaged(planes: np.ndarray, times: int) -> np.ndarray:
    size = planes.shape[2] // times, planes.shape[1] // times
    return np.stack([cv2.resize(plane, size, interpolation=cv2.INTER_AREA) for plane in planes])


def _settings(used: Maker, values: dict) -> Model:
    try:
        return used.settings.model_validate(values)
    except ValueError as error:
        raise KilnError(f"{used.title} cannot be set so.", repr(values)[:200]) from error


def drawings_in(settings: Model) -> set[str]:
    """The hashes of the drawings that a maker's settings name."""
    told = type(settings).model_fields.items()
    named = {
        getattr(settings, name)
        for name, field in told
        if isinstance(field.json_schema_extra, dict)
        and field.json_schema_extra.get("control") == "made_artwork"
    }
    return named - {""}


def alike(name: str, settings: Model, seed: int, count: int) -> list[tuple[int, Model]]:
    """(seed, settings) of more like it: each number moved by up to a fifth of what its slider
    spans, choices kept. The same for the same seed.
    """
    rng = np.random.default_rng(seed)
    model = MAKERS.named(name).settings
    return [
        (int(rng.integers(10_000)), model.model_validate(_moved(settings, rng)))
        for _ in range(count)
    ]


def _moved(settings: Model, rng: np.random.Generator) -> dict[str, Any]:
    moved: dict[str, Any] = {}
    for name, field in type(settings).model_fields.items():
        value, told = getattr(settings, name), _bounds(field)
        if not told or isinstance(value, bool):
            moved[name] = value
            continue
        low, high = told
        extra: Any = field.json_schema_extra
        least, most = extra.get("soft") or (low, high)
        other = min(max(value + rng.uniform(-0.2, 0.2) * (most - least), low), high)
        moved[name] = round(other) if isinstance(value, int) else round(float(other), 2)
    return moved


def _bounds(field: Any) -> tuple[float, float] | None:
    told = {type(one).__name__: one for one in field.metadata}
    return (told["Ge"].ge, told["Le"].le) if {"Ge", "Le"} <= set(told) else None
