"""A face by its reference: the name of a shipped font, or the hash of one that its owner brought
in.

Own fonts are files by content, so that it does not matter who looks for one: `look_in` names what
they lie in. Only what the sanitiser wrote is ever put there.
"""

from dataclasses import dataclass
from typing import Protocol
from weakref import WeakSet

import uharfbuzz as hb

from kilncore.errors import MissingAsset
from kilncore.system.budget import budget_of
from kilncore.system.cache import ByteCache
from kilncore.typesetting.shipped import FONTS, SHIPPED

CAP_SHARE = 0.7  # of the em, where a font does not say how tall its capitals are
OWN = "your font"
_READ = ByteCache(budget_of("fonts"))
_PATHS = {one.name: one.path for one in SHIPPED}


class Store(Protocol):
    """What files lie in."""

    def data(self, name: str) -> bytes:
        """The bytes of that hash; MissingAsset if they are not there."""


_STORES: WeakSet[Store] = WeakSet()


@dataclass(frozen=True, eq=False)
class Face:
    """units : of the em. cap_height : in font units. characters : what it has glyphs for. features
    : tags of its GSUB and GPOS tables, in order. Told apart by ref and axes.
    """

    ref: str
    axes: tuple[tuple[str, float], ...]
    font: hb.Font
    units: int
    cap_height: float
    characters: frozenset[int]
    features: tuple[str, ...]
    nbytes: int

    @property
    def key(self) -> tuple:
        """What its outlines depend on."""
        return self.ref, self.axes

    @property
    def title(self) -> str:
        """Of a shipped font its name, else the words for one's own."""
        return FONTS.get(self.ref, OWN)

    @property
    def axis_infos(self) -> list:
        """HarfBuzz's own: tag, min_value, default_value, max_value, name_id."""
        return self.font.face.axis_infos


def look_in(store: Store) -> None:
    """Have own fonts looked for there too, as long as it lives."""
    _STORES.add(store)


def face(ref: str, axes: tuple[tuple[str, float], ...] = ()) -> Face:
    """The face of a reference, read once.

    Parameters
    ----------
    ref : str
        The name of one that ships, or the hash of one's own.
    axes : tuple of (str, float)
        (tag, value); values beyond an axis' ends stand at its end, unknown tags are left out.

    Returns
    -------
    Face
        Shared: it is not changed.

    Raises
    ------
    MissingAsset
        For a font that is not there.
    """
    return _READ.get((ref, axes), lambda: _read(ref, axes))


def _read(ref: str, axes: tuple[tuple[str, float], ...]) -> Face:
    data = _bytes(ref)
    source = hb.Face(hb.Blob(data))
    known = {info.tag: info for info in source.axis_infos}
    placed = tuple(
        (tag, min(max(value, known[tag].min_value), known[tag].max_value))
        for tag, value in axes
        if tag in known
    )
    font = hb.Font(source)
    if placed:
        font.set_variations(dict(placed))
    return Face(
        ref,
        placed,
        font,
        source.upem,
        _cap_height(font, source.upem),
        frozenset(source.unicodes),
        _features(source),
        len(data),
    )


def _bytes(ref: str) -> bytes:
    if ref in _PATHS:
        return _PATHS[ref].read_bytes()
    for store in list(_STORES):
        try:
            return store.data(ref)
        except MissingAsset:
            continue
    raise MissingAsset("A font that this piece uses is not there. Choose another.", str(ref)[:80])


def _cap_height(font: hb.Font, units: int) -> float:
    height = font.get_metric_position(hb.OTMetricsTag.CAP_HEIGHT) or 0
    if not _likely(height, units) and (glyph := font.get_nominal_glyph(ord("H"))):
        extents = font.get_glyph_extents(glyph)
        height = extents.y_bearing if extents else 0
    return float(height) if _likely(height, units) else CAP_SHARE * units


def _likely(height: float, units: int) -> bool:
    """Whether capitals can be so tall: some fonts tell nonsense."""
    return 0.3 * units < height < 1.5 * units


def _features(source: hb.Face) -> tuple[str, ...]:
    """Of all scripts and languages of the font."""
    tags = set()
    for table in ("GSUB", "GPOS"):
        for number, _ in enumerate(source.get_table_script_tags(table)):
            languages = range(len(source.get_script_language_tags(table, number)))
            for language in (*languages, 0xFFFF):
                tags.update(source.get_language_feature_tags(table, number, language))
    return tuple(sorted(tags))
