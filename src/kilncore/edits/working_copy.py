"""A model as the JSON tree that edits change, opened no further than they look: an edit costs what
it changes, whatever else the document holds.

What was not touched stays the model that it is, and is neither written out nor read again.
"""

import operator
from collections.abc import Iterator, Mapping, MutableMapping
from typing import Any

from pydantic import BaseModel

SIMPLE = (str, int, float, bool, type(None))


class WorkingCopy(MutableMapping):
    """The fields of a model by name, as `model_dump(mode="json")` has them: models within are
    working copies too, tuples are lists. To be changed as a dict is; the model itself never is.
    """

    __slots__ = ("_model", "_names", "_opened")

    def __init__(self, model: BaseModel):
        self._model, self._opened = model, {}
        self._names: Mapping[str, Any] = type(
            model
        ).__pydantic_fields__  # until there is another, or one less

    def __getitem__(self, name: str) -> Any:
        if name not in self._names:
            raise KeyError(name)
        if name not in self._opened:
            value = getattr(self._model, name)
            if isinstance(value, SIMPLE):
                return value
            self._opened[name] = opened(value)
        return self._opened[name]

    def __setitem__(self, name: str, value: Any) -> None:
        if name not in self._names:
            self._names = {**self._names, name: None}
        self._opened[name] = value

    def __delitem__(self, name: str) -> None:
        self._names = {one: None for one in self._names if one != name}
        self._opened.pop(name, None)

    def __iter__(self) -> Iterator[str]:
        return iter(self._names)

    def __len__(self) -> int:
        return len(self._names)

    def __deepcopy__(self, memo: dict) -> dict:
        return plain(self)

    def is_open(self, name: str) -> bool:
        """Whether edits have looked into a field, or set it."""
        return name in self._opened

    def closed(self) -> Any:
        """The model itself where nothing was changed; else a dict to be read anew, with what was
        not changed within as the models that they are.
        """
        model, names = self._model, self._names
        same = names is type(model).__pydantic_fields__
        if same and not self._opened:
            return model
        ends = {name: closed(one, getattr(model, name, None)) for name, one in self._opened.items()}
        if same and all(end is getattr(model, name) for name, end in ends.items()):
            return model
        return {name: ends[name] if name in ends else getattr(model, name) for name in names}


def opened(value: Any) -> Any:
    """A value of a model as edits see it."""
    if isinstance(value, BaseModel):
        own = type(value).__pydantic_decorators__.model_serializers
        return value.model_dump(mode="json") if own else WorkingCopy(value)
    if isinstance(value, (tuple, list)):
        return [opened(one) for one in value]
    if isinstance(value, dict):
        return {name: opened(one) for name, one in value.items()}
    return value


def closed(value: Any, before: Any) -> Any:
    """What edits made of a value, or what it was before where that is the same."""
    if isinstance(value, WorkingCopy):
        return value.closed()
    if isinstance(value, list):
        was = before if isinstance(before, tuple) else ()
        made = any(isinstance(one, dict) for one in value)
        known = {one.id: one for one in was if hasattr(one, "id")} if made else {}
        ends = [
            _closed_one(one, was[n] if n < len(was) else None, known) for n, one in enumerate(value)
        ]
        same = isinstance(before, tuple) and len(ends) == len(was)
        return before if same and all(map(operator.is_, ends, was)) else ends
    if isinstance(value, dict):
        if isinstance(before, BaseModel) and value == before.model_dump(mode="json"):
            return before
        return {name: closed(one, None) for name, one in value.items()}
    return before if type(value) is type(before) and value == before else value


def _closed_one(value: Any, before: Any, known: dict) -> Any:
    """One of a list, that may have stood elsewhere in it."""
    if isinstance(value, WorkingCopy):
        return value.closed()
    if isinstance(value, dict) and value.get("id") in known:
        before = known[value["id"]]
    return closed(value, before)


def plain(value: Any) -> Any:
    """A copy of its own, of dicts and lists alone."""
    if isinstance(value, WorkingCopy):
        return {name: plain(one) for name, one in value.items()}
    if isinstance(value, dict):
        return {name: plain(one) for name, one in value.items()}
    if isinstance(value, (list, tuple)):
        return [plain(one) for one in value]
    return value
