"""What a step works out over the whole item: solved once for each content key, at scale 1 or, for drafts, smaller."""

from dataclasses import dataclass, field

from kilncore.box import Box, tiles_over
from kilncore.engine import keeping, pool
from kilncore.engine.keys import key_of
from kilncore.engine.reader import TILE, Reader
from kilncore.engine.view import StepView
from kilncore.frame import Frame
from kilncore.rows.tape import Tape
from kilncore.steps import kind_named


@dataclass(frozen=True)
class Survey:
    """whole : the box of the item on the piece, at the scale of `input` and `beneath`."""

    step: object
    frame: Frame
    input: object
    beneath: object
    item_seed: int
    whole: Box
    alone = False
    key: str = field(init=False)

    def __post_init__(self):
        kind = kind_named(self.step.kind)
        beneath = self.beneath.key if kind.reads_beneath else None
        reads_input = None if kind.reads_beneath and "move" in kind.results else self.input.key
        seeds = (self.item_seed, self.step.seed) if kind.seeded else ()
        object.__setattr__(self, "key", key_of("survey", kind.kind, self.step.rev, kind.whole.reads(self.step.params), self.frame,
                                               reads_input, beneath, self.whole, *seeds))

    @property
    def sources(self):
        return ((self.beneath, 0),)

    def value(self, reader: Reader):
        """The value; worked out here, on this thread, if `prepare` was not asked before."""
        return reader.once(self.key, lambda: self._joined([self._part(tile, self._reader(reader)) for tile in self._tiles()]))

    def prepare(self, reader: Reader, at_once: int) -> None:
        """Work the value out on the pool's threads, unless it is known."""
        if self.key in reader.cache:
            return
        parts, own = {}, self._reader(reader)

        def work(tile):
            own.ready(self, tile)
            parts[tile] = self._part(tile, own)

        tiles = self._tiles()
        own.hold(keeping.deep(own.study, self.whole), self, at_once)
        pool.each(work, tiles, at_once, own.ahead)
        reader.once(self.key, lambda: self._joined([parts[tile] for tile in tiles]))

    def _tiles(self) -> list[Box]:
        return [tile.met(self.whole) for tile in tiles_over(self.whole, TILE)]

    def _reader(self, reader: Reader) -> Reader:
        study = keeping.studied(self.beneath)
        return Reader(reader.assets, reader.cache, reader.cancelled, keeping.kept(self.beneath, self.whole, study=study), study=study)

    def _part(self, tile: Box, reader: Reader):
        return kind_named(self.step.kind).whole.part(self.step.params, StepView(reader, self, Tape(tile), tile))

    def _joined(self, parts):
        return kind_named(self.step.kind).whole.joined(parts)


def prepare(*roots, reader: Reader, at_once: int = pool.THREADS) -> None:
    """Solve what the nodes of a graph need to know of whole items, what is read first before what reads it."""
    for node in keeping.in_order(*roots, also=_measured):
        if getattr(node, "survey", None) is not None:
            node.survey.prepare(reader, at_once)


def _measured(node) -> tuple:
    survey = getattr(node, "survey", None)
    return () if survey is None else (survey.beneath,)
