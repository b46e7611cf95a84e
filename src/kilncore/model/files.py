"""References to files by the SHA-256 of their content, and finding them in a document by their
type.

A model names a file in a field of one of these types, whatever the field is called and however deep
it lies; `files_in` finds them all. So nothing that a document names can slip past the check of
whose it is.
"""

from collections.abc import Iterator
from typing import Any, TypeVar

from pydantic import BaseModel
from pydantic_core import core_schema

PATTERN = r"^[0-9a-f]{64}$"
T = TypeVar("T")


class FileHash(str):
    """The name of a file: 64 hex digits. The same file named as two things is two names: each of
    them is asked for whose it is.
    """

    def __eq__(self, other: object) -> bool:
        if isinstance(other, FileHash) and type(other) is not type(self):
            return False
        return str.__eq__(self, other)

    def __ne__(self, other: object) -> bool:
        return not self == other

    __hash__ = str.__hash__

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.no_info_after_validator_function(
            cls, core_schema.str_schema(pattern=PATTERN)
        )


class TextureHash(FileHash):
    """A texture on its owner's shelf."""


class ArtHash(FileHash):
    """An artwork that its owner brought in."""


class PictureHash(ArtHash):
    """One of pixels."""


class PageHash(ArtHash):
    """A PDF, of which a page is shown."""


class FontHash(FileHash):
    """A font that its owner brought in, as the sanitiser wrote it."""


class StrokesHash(FileHash):
    """Strokes of touch-up (see `kilncore.strokes`)."""


def values_in(value: Any, kind: type[T]) -> Iterator[T]:
    """All values of that type within a model, its tuples, lists and dicts."""
    if isinstance(value, kind):
        yield value
    if isinstance(value, BaseModel):
        for inner in value.__dict__.values():
            yield from values_in(inner, kind)
    elif isinstance(value, tuple | list):
        for inner in value:
            yield from values_in(inner, kind)
    elif isinstance(value, dict):
        for inner in value.values():
            yield from values_in(inner, kind)


def files_in(value: Any, kind: type[FileHash] = FileHash) -> set[FileHash]:
    """The files of that type that a model names."""
    return set(values_in(value, kind))
