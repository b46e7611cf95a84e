"""One new file and one line: each list takes one more of its kind, from the document to the picture
and the form.
"""

import json
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
import pytest
from pydantic import ValidationError

from kilncore import edits, engine
from kilncore.artwork.base import ARTS, Art, art
from kilncore.artwork.drawing import Drawing, extent_of
from kilncore.document import dump, load
from kilncore.errors import KilnError
from kilncore.fills.base import FILLS, Fill, fill
from kilncore.graph.keys import key_of
from kilncore.landing.limits.base import LIMITS, Limit, limit
from kilncore.model.base import Model
from kilncore.model.files import ArtHash, FileHash, TextureHash, files_in
from kilncore.model.registry import OneOf, Registry
from kilncore.model.setting import setting
from kilncore.planes.region import RegionPlane
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps import STEPS
from kilncore.steps.base import Cover, step
from kilncore.system.cache import ByteCache
from kilncore.textures.makers.base import MAKERS, make, maker
from kilnmark.bench.marks.coming import begun
from kilnmark.controls.fields import fields_of
from tests.documents import lettering, mark, piece, px
from tests.documents import step as asked


def drawn(document, store=None):
    return engine.render(document, assets=store, cache=ByteCache(), seen=None)


class Box(Art):
    """A plain block."""

    kind: Literal["block"] = "block"
    side: float = setting(80.0, "Side", "Of the block.", "slider", soft=(1, 200), ge=1, le=1000)

    def box_px(self, ppi, piece_height):
        return self.side, self.side

    def drawing(self, placed, scale, ppi, piece_height):
        return BlockDrawing(self, tuple(placed.corners(self.side, self.side)))


@dataclass(frozen=True)
class BlockDrawing(Drawing):
    art: Box
    corners: tuple
    tint = (0.2, 0.4, 0.6)

    @property
    def key(self):
        return key_of("block", self.corners)

    @property
    def extent(self):
        return extent_of(np.array(self.corners))

    def planes(self, reader, box):
        (left, top), (right, bottom) = np.min(self.corners, 0), np.max(self.corners, 0)
        y, x = np.mgrid[box.top : box.bottom, box.left : box.right] + 0.5
        return ((x > left) & (x < right) & (y > top) & (y < bottom)).astype(np.float32)[None]


def test_a_new_art_kind_is_one_file():
    with ARTS.with_more(lambda: art("block", title="Block", sentence="A block.")(Box)):
        document = piece(
            mark(
                {"kind": "block", "side": 60}, 200, 150, [asked("soften", radius=px(1))], scale=2.0
            ),
            ground={"kind": "none"},
        )
        again = load(dump(document))
        assert again == document and again.stack[0].art.side == 60
        found = drawn(again)
        assert found[..., 3].sum() == pytest.approx(120 * 120, rel=0.01)
        np.testing.assert_allclose(found[150, 200], (0.2, 0.4, 0.6, 1), atol=1e-5)
        one = begun(again)[-1]  # offered where marks are brought in
        twice = edits.apply(again, json.loads(one["edits"]) * 2)
        assert one["title"] == "Block" and twice.stack[-1].art == Box()
        assert [field.template for field in fields_of(again.stack[0].art, [])] == [
            "controls/slider.html"
        ]
    left = begun(again.model_copy(update={"stack": ()}))
    assert "Block" not in [one["title"] for one in left]
    with pytest.raises(KilnError, match="art must be one of lettering, vector"):
        piece(mark({"kind": "block", "side": 60}))


def test_a_new_fill_is_one_file():
    from kilncore.fills.colour import ColourNode

    class Dusk(Fill):
        kind: Literal["dusk"] = "dusk"
        late: bool = setting(False, "Late", "Darker.", "toggle")

        def node(self, frame):
            return ColourNode("#101828" if self.late else "#405070")

    with FILLS.with_more(lambda: fill("dusk", title="Dusk", summary="an evening")(Dusk)):
        document = load(dump(piece(ground={"kind": "dusk", "late": True})))
        np.testing.assert_allclose(
            drawn(document)[5, 5], (0x10 / 255, 0x18 / 255, 0x28 / 255, 1), atol=1e-6
        )
        assert [field.template for field in fields_of(document.ground.fill, [])] == [
            "controls/toggle.html"
        ]


def test_a_new_limit_is_one_file():
    class Half(Limit):
        kind: Literal["half"] = "half"

        def plane(self, sources):
            return RegionPlane("rectangle", (0.0, 0.0), (200.0, 9999.0), 0.0, 1.0)

    with LIMITS.with_more(lambda: limit("half", title="Half")(Half)):
        coat = asked("grain", "normal", amount=0)
        document = piece(
            ground={"kind": "colour", "colour": "#000000"},
            size=(200, 100),
            treatment=[{**coat, "landing": {"limits": [{"kind": "half", "outside": True}]}}],
        )
        found = drawn(load(dump(document)))[..., 0]
    assert (found[:, :99] == 0).all() and (found[:, 101:] > 0.4).all()


def test_a_new_maker_is_one_file():
    class Settings(Model):
        tone: float = setting(0.5, "Tone", "How light.", "share", ge=0, le=1)

    def register():
        @maker(
            "slate",
            title="Slate",
            good_for="a ground",
            settings=Settings,
            group="Materials",
            starts={},
        )
        def slate(settings, fields):
            return np.full((1, fields.height, fields.width), round(settings.tone * 255), np.uint8)

    with MAKERS.with_more(register):
        assert (make("slate", 64, 64, 1, MAKERS["slate"].settings(tone=0.2)) == 51).all()
        assert [
            (field.template, field.least, field.most) for field in fields_of(Settings(), [])
        ] == [("controls/share.html", 0, 1)]


def test_one_type_serves_every_list():
    """Prep operations and patterns are not there yet: any list of settings told apart by their kind
    is made of the same two.
    """

    class Flatten(Model):
        kind: Literal["flatten"] = "flatten"
        amount: float = 0.5

    class Entry:
        settings = Flatten

    known = Registry("a prep operation")
    known.add("flatten", Entry)

    class Chain(Model):
        operations: tuple[Annotated[Model, OneOf(known)], ...] = ()

    chain = Chain.model_validate_json('{"operations": [{"kind": "flatten", "amount": 0.25}]}')
    assert (
        Chain.model_validate_json(chain.model_dump_json()) == chain
        and chain.operations[0].amount == 0.25
    )
    for wrong in (
        {"kind": "melt"},
        {"kind": "flatten", "amount": "much"},
        {"kind": "flatten", "more": 1},
        {"kind": ["flatten"]},
        "flatten",
        3,
        None,
    ):
        with pytest.raises(ValidationError):
            Chain.model_validate({"operations": [wrong]})


def test_files_are_found_by_their_type_whatever_they_are_called(texture, store):
    """A setting called `map`, in a list within a dict: what a check by name would let slip."""

    class Mapped(Model):
        map: TextureRef
        more: dict[str, tuple[TextureHash, ...]] = {}
        drawing: ArtHash | None = None

    other, third = "a" * 64, "b" * 64

    def register():
        @step(
            "mapped",
            title="Mapped",
            sentence="",
            gives="cover",
            settings=Mapped,
            summary=lambda s: "",
        )
        def mapped(settings, view):
            return Cover(view.texture(settings.map, settings_placement)[0][0])

    from kilncore.model.texture import TexturePlacement

    settings_placement = TexturePlacement()
    with STEPS.with_more(register):
        document = piece(
            mark(
                lettering("O", 90),
                treatment=[asked("mapped", map=texture, more={"x": [other]}, drawing=third)],
            )
        )
        assert document.files(TextureHash) == {texture["hash"], other} and document.files(
            ArtHash
        ) == {third}
        assert files_in(document) == {texture["hash"], other, third}
        assert all(isinstance(name, FileHash) for name in load(dump(document)).files())
        assert drawn(document, store).any()


def test_a_name_is_registered_once_and_with_settings():
    lists = Registry("a thing")

    class Entry:
        settings = Model

    lists.add("one", Entry)
    with pytest.raises(ValueError, match="registered twice"):
        lists.add("one", Entry)
    with pytest.raises(ValueError, match="no model of settings"):
        lists.add("two", type("Entry", (), {"settings": int}))
    with pytest.raises(KilnError, match="A thing must be one of: one"):
        lists.named("two")
    with pytest.raises(KilnError):
        lists.named(["one"])
