"""Lists of what there is: step kinds, art kinds, fills, limits, makers, formats. One class for all
of them.

An entry is any object with a `settings` model: what a document, or a request, may set of it. An
entry registers itself when its module is read, by the decorator of its list; the package of the
list names its modules in the order in which they are offered. `OneOf` makes a field of a model that
holds the settings of one of a list, told apart by their `kind`.
"""

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from pydantic_core import core_schema

from kilncore.errors import KilnError
from kilncore.model.base import Model


class Registry(Mapping):
    """Entries by name. what : one of them, in words, as 'a step'."""

    def __init__(self, what: str):
        self.what, self._entries = what, {}

    def add(self, name: str, entry: Any) -> None:
        """Put an entry at the end of the list; ValueError if its name is taken, or it has no
        settings.
        """
        if name in self._entries:
            raise ValueError(f"{self.what} {name!r} is registered twice")
        if not (isinstance(entry.settings, type) and issubclass(entry.settings, Model)):
            raise ValueError(f"{self.what} {name!r} has no model of settings")
        self._entries[name] = entry

    def decorator(self, entry: type, attribute: str) -> Callable[..., Callable]:
        """What registers: `@decorator(name, **facts)` adds entry(name=name, **facts).

        attribute : that of the entry which what is decorated becomes.
        """

        def named(name: str, **facts: Any) -> Callable:
            def register(what: Any) -> Any:
                self.add(name, entry(name=name, **{attribute: what}, **facts))
                return what

            return register

        return named

    def remove(self, name: str) -> None:
        """Take an entry out again."""
        del self._entries[name]

    def named(self, name: str) -> Any:
        """The entry of that name, or a KilnError that says what there is."""
        if not isinstance(name, str) or name not in self._entries:
            raise KilnError(
                f"{self.what.capitalize()} must be one of: {', '.join(self._entries)}.",
                repr(name)[:80],
            )
        return self._entries[name]

    def settings(self, name: Any, data: Any) -> Model:
        """Data as the settings of that entry; ValueError if there is none, ValidationError if they
        do not fit.
        """
        if not isinstance(name, str) or name not in self._entries:
            raise ValueError(f"{self.what} must be one of {', '.join(self._entries)}")
        model = self._entries[name].settings
        return data if isinstance(data, model) else model.model_validate(data)

    @contextmanager
    def with_more(self, register: Callable[[], Any]) -> Iterator[Any]:
        """For a while, what `register` adds is in the list."""
        known = dict(self._entries)
        try:
            yield register()
        finally:
            self._entries.clear()
            self._entries.update(known)

    def __getitem__(self, name: str) -> Any:
        return self._entries[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._entries)

    def __len__(self) -> int:
        return len(self._entries)


class OneOf:
    """As in `Annotated[Model, OneOf(ARTS)]`: the settings of one of a list, with its name in their
    field `kind`.

    The list is looked at when a value is validated: what is registered later is accepted too.
    """

    def __init__(self, registry: Registry):
        self.registry = registry

    def _validated(self, value: Any) -> Model:
        if isinstance(value, Model):
            return self.registry.settings(getattr(value, "kind", None), value)
        if not isinstance(value, dict):
            raise ValueError(f"{self.registry.what} must be an object with a kind")
        return self.registry.settings(value.get("kind"), value)

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.no_info_plain_validator_function(self._validated)
