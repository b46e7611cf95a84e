"""No sentence of the validator's reaches the screen: rules are told by the titles of settings."""

import pytest

from kilncore import edits
from kilncore.document import MAX_ITEMS, load
from kilncore.errors import KilnError
from tests.documents import lettering, mark, piece, step

FOREIGN = ("input should", "value error", "validation", "pydantic", "valid number", "items after")


def refused(document, *path, value):
    with pytest.raises(KilnError) as error:
        edits.apply(document, [{"op": "set", "path": list(path), "value": value}])
    message = error.value.message
    assert not any(words in message.lower() for words in FOREIGN), message
    return message


def test_rules_are_told_by_titles_with_units():
    document = piece(mark(lettering(), treatment=[step("wear")]))
    (item,) = document.stack
    wear = ["stack", item.id, "treatment", item.treatment[0].id]
    assert "“Where it wears” must be 100 % at most" in refused(
        document, *wear, "params", "bias", value=3
    )
    assert "“share” must be 1 at most" in refused(document, *wear, "params", "share", value=3)
    assert "“Strength” must be 300 % at most" in refused(
        document, *wear, "landing", "strength", value=9
    )
    assert "“Middle” must be a number" in refused(document, *wear, "params", "gamma", value="much")
    assert "“Title” can be 120 characters at most" in refused(document, "title", value="x" * 121)
    assert "“Shows” cannot be that" in refused(document, *wear, "params", "under", value="rust")
    refused(document, *wear, "params", value={"nothing": 1})
    refused(document, "stack", item.id, "placement", "x", value={"value": 1e9, "unit": "px"})
    refused(document, "ppi", value=None)


def test_as_many_marks_as_are_promised():
    document = piece(*(mark(lettering("A")) for _ in range(MAX_ITEMS)))
    assert len(document.stack) == MAX_ITEMS
    fewer = piece(*(mark(lettering("A")) for _ in range(MAX_ITEMS - 1)))
    group = {"op": "group", "marks": [item.id for item in fewer.stack]}
    assert len(edits.apply(fewer, [group]).stack[0].members) == MAX_ITEMS - 1
    with pytest.raises(KilnError, match=f"{MAX_ITEMS} marks and groups at most"):
        edits.apply(document, [{"op": "copy_mark", "mark": document.stack[0].id}])
    assert load(document.model_dump(mode="json")) == document
