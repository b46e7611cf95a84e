"""Each mark or group by itself, on transparency, cut to its own size: a set of icons."""

import re

from kilncore.document import Group, Mark, Piece
from kilncore.engine.building import fired
from kilncore.engine.plan import Plan
from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.output.contents.base import Picture, content

MOST_NAME = 40


class MarksSettings(Model):
    """Nothing is set of it."""


@content(
    "marks",
    title="Each mark alone",
    sentence="A file for each, named by the mark, in a zip.",
    settings=MarksSettings,
    several=True,
)
def marks_alone(piece: Piece, settings: MarksSettings) -> list[Picture]:
    """Those of the stack that are not left out, as they are treated; what lies beneath still
    counts. KilnError if there is nothing of any on the page.
    """
    plan, taken, pictures = Plan(piece), set(), []
    for item in fired(piece.stack):
        node = plan.fired_alone(item.id).node
        box = node.extent.intersection(plan.page)
        if not box.empty:
            pictures.append(Picture(_name(item, taken), node, box))
    if not pictures:
        raise KilnError("There is no mark on this piece to make a file of.")
    return pictures


def _name(item: Mark | Group, taken: set[str]) -> str:
    """Of its file: no other has it."""
    words = item.name or getattr(getattr(item, "art", None), "text", "") or item.kind
    plain = re.sub(r"[^\w]+", "-", words.lower()).strip("-")[:MOST_NAME] or item.kind
    name, number = plain, 1
    while name in taken:
        number += 1
        name = f"{plain}-{number}"
    taken.add(name)
    return name
