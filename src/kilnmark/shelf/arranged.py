"""The shelf as it is asked for: searched, filtered, sorted."""

from dataclasses import dataclass
from urllib.parse import urlencode

from kilncore.textures.facts import USES
from kilnmark.shelf.models import Texture

WAYS = ("span", "true")
SORTS = {
    "newest": ("newest first", None),
    "name": ("name", lambda one: one.name.casefold()),
    "size": ("largest first", lambda one: -one.width * one.height),
    "coarse": ("finest specks first", lambda one: one.measured.coarse_px),
    "dark": ("darkest first", lambda one: -one.measured.dark),
    "contrast": ("boldest first", lambda one: -one.measured.contrast),
    "even": ("most evenly lit first", lambda one: -one.measured.even),
    "seam": ("least seam first", lambda one: max(one.measured.across, one.measured.down)),
    "soft": ("sharpest first", lambda one: one.measured.soft_px),
    "lines": ("most directed first", lambda one: -one.measured.strength),
}
OF_FACTS = set(SORTS) - {"newest", "name", "size"}


@dataclass(frozen=True)
class Asked:
    """words : searched for. good_for : one of USES, or ''. way : how samples are shown."""

    words: str = ""
    good_for: str = ""
    tag: str = ""
    favourites: bool = False
    sort: str = "newest"
    way: str = "true"

    def query(self, **changes) -> str:
        """As an address asks for it."""
        told = {
            "q": self.words,
            "good-for": self.good_for,
            "tag": self.tag,
            "favourites": "1" if self.favourites else "",
            "sort": self.sort if self.sort != "newest" else "",
            "way": self.way if self.way != "true" else "",
        } | changes
        return "?" + urlencode({name: value for name, value in told.items() if value})

    @property
    def for_use(self) -> dict[str, str]:
        """The address for each use, and for any."""
        return {use: self.query(**{"good-for": use}) for use in ("", *USES)}

    @property
    def other_way(self) -> str:
        return self.query(way="span" if self.way == "true" else "")

    @property
    def with_favourites(self) -> str:
        return self.query(favourites="" if self.favourites else "1")

    @property
    def narrowed(self) -> bool:
        return bool(self.words or self.good_for or self.tag or self.favourites)


def asked(query) -> Asked:
    """What an address asks for; what it does not know is left out."""
    good_for, sort, way = (query.get(name, "") for name in ("good-for", "sort", "way"))
    return Asked(
        query.get("q", "").strip()[:80],
        good_for if good_for in USES else "",
        query.get("tag", "")[:60],
        bool(query.get("favourites")),
        sort if sort in SORTS else "newest",
        way if way in WAYS else "true",
    )


def arranged(textures: list[Texture], wanted: Asked) -> list[Texture]:
    """Those that are wanted, in that order; what is not measured yet comes last."""
    words = wanted.words.casefold().split()
    found = [
        one
        for one in textures
        if all(word in _searched(one) for word in words)
        and (not wanted.good_for or any(use.startswith(wanted.good_for) for use in one.good_for))
        and (not wanted.tag or wanted.tag in one.tag_list)
        and (one.favourite or not wanted.favourites)
    ]
    key = SORTS[wanted.sort][1]
    if key is None:
        return found
    if wanted.sort not in OF_FACTS:
        return sorted(found, key=key)
    return sorted((one for one in found if one.measured), key=key) + [
        one for one in found if not one.measured
    ]


def _searched(texture: Texture) -> str:
    told = (texture.name, texture.tags, texture.credit, texture.licence, texture.source)
    return " ".join(told).casefold()


def tags_of(textures: list[Texture]) -> list[str]:
    """All tags, each once."""
    return sorted({tag for one in textures for tag in one.tag_list})
