"""What a prep page says: its operations in order, and the form of the one that is chosen."""

import json
from dataclasses import dataclass

import numpy as np

from kilncore.prep import OPERATIONS
from kilncore.prep.base import GROUPS, TEXTURE, Operation
from kilncore.prep.chain import size_of
from kilncore.prep.texture_ref import TextureRef
from kilnmark.controls.fields import Field, fields_of
from kilnmark.storage import assets

NINE = 9
BINS = 256


@dataclass(frozen=True)
class Stage:
    """One operation of the chain. number : how many are done when it is."""

    settings: Operation
    path: tuple[str, ...]
    number: int
    count: int
    chosen: bool

    @property
    def kind(self):
        return OPERATIONS.named(self.settings.kind)

    @property
    def on_path(self) -> str:
        return json.dumps([*self.path, self.settings.id, "on"])

    def _edit(self, op: str, **more) -> str:
        return json.dumps({"op": op, "path": self.path, "operation": self.settings.id, **more})

    @property
    def removal(self) -> str:
        return self._edit("remove_operation")

    @property
    def copying(self) -> str:
        return self._edit("copy_operation")

    @property
    def earlier(self) -> str:
        return self._edit("move_operation", to=self.number - 2) if self.number > 1 else ""

    @property
    def later(self) -> str:
        return self._edit("move_operation", to=self.number) if self.number < self.count else ""


@dataclass(frozen=True)
class Sheet:
    """chosen : the stage whose form is open, None for what was found. histogram : of what it is
    given.
    """

    ref: TextureRef
    path: tuple[str, ...]
    stages: tuple[Stage, ...]
    chosen: Stage | None
    fields: tuple[Field, ...] = ()
    notes: tuple[str, ...] = ()
    histogram: tuple[int, ...] = ()

    @property
    def offered(self) -> list[tuple[str, list[tuple[str, str, str]]]]:
        """(group, [(title, sentence, edit), ...])."""
        found = []
        for group in GROUPS:
            kinds = [
                kind
                for kind in OPERATIONS.values()
                if TEXTURE in kind.serves and kind.group == group
            ]
            edits = [
                (
                    kind.title,
                    kind.sentence,
                    json.dumps({"op": "add_operation", "path": self.path, "kind": kind.name}),
                )
                for kind in kinds
            ]
            found.append((group, edits))
        return found

    @property
    def nine(self) -> str:
        """The settings of the chosen operation that can be shown as nine, as JSON."""
        found = [
            {
                "title": field.title,
                "path": field.path,
                "unit": field.unit,
                "factor": field.factor,
                "values": [
                    float(n) / field.factor for n in np.linspace(field.least, field.most, NINE)
                ],
            }
            for field in self.fields
            if field.control in ("slider", "size") and field.least is not None
        ]
        return json.dumps(found)


def sheet_of(ref: TextureRef, path: tuple[str, ...], chosen: str) -> Sheet:
    """chosen : an operation's id; the last one if there is none of that id."""
    count = len(ref.chain)
    ids = [one.id for one in ref.chain]
    at = ids.index(chosen) if chosen in ids else count - 1
    if chosen == "found":
        at = -1
    stages = tuple(Stage(one, path, n + 1, count, n == at) for n, one in enumerate(ref.chain))
    if at < 0:
        return Sheet(ref, path, stages, None)
    one = ref.chain[at]
    before = ref.chain[:at]
    counts = assets().counts(ref.hash, before, ref.wraps) if one.reads_tones else None
    size = size_of(before, *assets().source(ref.hash).size)
    fields = fields_of(one, [*path, one.id])
    return Sheet(
        ref,
        path,
        stages,
        stages[at],
        tuple(fields),
        one.notes(*size, counts) if one.on else (),
        () if counts is None else binned(counts),
    )


def binned(counts: np.ndarray) -> tuple[int, ...]:
    """256 of them."""
    return tuple(int(n) for n in counts.reshape(BINS, -1).sum(1))
