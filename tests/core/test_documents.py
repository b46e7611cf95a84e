"""Documents: what is accepted, what is refused, and every edit."""

import json

import pytest

from kilncore import document, edits
from kilncore.errors import KilnError
from kilncore.model.files import TextureHash
from kilncore.model.units import Length
from kilncore.steps import STEPS
from tests.documents import every_step, lettering, mark, piece, px, step


@pytest.fixture
def worked(texture):
    return piece(
        mark(treatment=every_step(texture)), mark(lettering("Key")), treatment=[step("soften")]
    )


def test_saved_and_loaded_it_is_equal(worked):
    assert document.load(document.dump(worked)) == worked


@pytest.mark.parametrize(
    "change, reason",
    [
        ({"format": 99}, "newer Kilnmark"),
        ({"format": None}, "no format"),
        ({"size_px": [4, 4]}, "16 at least"),
        ({"size_px": [20000, 20000]}, "million px"),
        ({"ppi": 1e9}, "2400 at most"),
        ({"ppi": float("nan")}, "must be a number"),
        ({"sparkle": 1}, "sparkle.* is not known"),
        ({"stack": [{"art": {"kind": "velvet"}}]}, "refused"),
        ({"treatment": [{"kind": "velvet"}]}, "a step must be one of"),
        ({"treatment": [step("wear", black=0.9, white=0.1)]}, "black point"),
        ({"treatment": [step("wear", strength=2)]}, "0 to 1"),
        ({"treatment": [step("coat", mode="sparkle")]}, "blend mode"),
        ({"ground": {"treatment": [step("follow")]}}, "cannot treat the ground"),
        (
            {"treatment": [{**step("soften"), "id": "a"}, {**step("soften"), "id": "a"}]},
            "id of its own",
        ),
    ],
)
def test_refusals_name_the_rule(worked, change, reason):
    tree = worked.model_dump(mode="json") | change
    with pytest.raises(KilnError, match=f"(?i){reason}"):
        document.load(tree)


@pytest.mark.parametrize("data", ["", "[]", "null", "{", '{"format": "1"}'])
def test_what_is_no_piece_is_refused(data):
    with pytest.raises(KilnError, match="not a piece"):
        document.load(data)


def test_every_hash_is_found(worked, texture):
    assert worked.files(TextureHash) == {texture["hash"]}


def test_lengths():
    assert Length(value=25.4, unit="mm").in_px(300, 0) == pytest.approx(300)
    assert Length(value=50, unit="%").in_px(300, 80) == 40
    assert Length(value=7).in_px(300, 80) == 7


def apply(of, *changes):
    return edits.apply(of, list(changes))


def test_setting_a_value(worked):
    one = worked.stack[0]
    path = ["stack", one.id, "treatment", one.treatment[0].id, "params", "black"]
    after = apply(worked, {"op": "set", "path": path, "value": 0.1})
    assert (
        after.stack[0].treatment[0].params.black == 0.1
        and worked.stack[0].treatment[0].params.black == 0.3
    )


def test_adding_moving_copying_and_removing_steps(worked):
    one = worked.stack[0]
    first = one.treatment[0].id
    kinds = lambda of: [s.kind for s in of.stack[0].treatment]  # noqa: E731
    assert kinds(apply(worked, {"op": "add_step", "part": one.id, "kind": "soften", "at": 1}))[
        :2
    ] == ["wear", "soften"]
    assert kinds(apply(worked, {"op": "move_step", "step": first, "to": 2})) == [
        "coat",
        "dabs",
        "wear",
        "follow",
        "tones",
        "soften",
        "grain",
        "surface_through",
    ]
    assert kinds(apply(worked, {"op": "remove_step", "step": first})) == [
        "coat",
        "dabs",
        "follow",
        "tones",
        "soften",
        "grain",
        "surface_through",
    ]
    coated = (
        apply(worked, {"op": "add_step", "part": one.id, "kind": "coat", "at": 0})
        .stack[0]
        .treatment[0]
    )
    assert coated.landing.mode == "multiply"  # laid over as normal it would only hide the art
    twice = apply(worked, {"op": "copy_step", "step": first})
    assert (
        kinds(twice)[:2] == ["wear", "wear"]
        and twice.stack[0].treatment[0].id != twice.stack[0].treatment[1].id
    )
    assert [
        s.kind
        for s in apply(
            worked, {"op": "add_step", "part": "ground", "kind": "soften"}
        ).ground.treatment
    ] == ["soften"]


def test_adding_moving_copying_and_removing_marks(worked):
    first, second = (m.id for m in worked.stack)
    assert [m.id for m in apply(worked, {"op": "move_mark", "mark": first, "to": 1}).stack] == [
        second,
        first,
    ]
    assert [m.id for m in apply(worked, {"op": "remove_mark", "mark": first}).stack] == [second]
    assert len(apply(worked, {"op": "add_mark", "mark": mark()}).stack) == 3
    twin = apply(worked, {"op": "copy_mark", "mark": first}).stack[-1]
    assert twin.seed != worked.stack[0].seed and twin.placement.x.value == 240


@pytest.mark.parametrize(
    "change",
    [
        {"op": "sparkle"},
        {"op": "set", "path": ["format"], "value": 2},
        {"op": "set", "path": ["velvet"], "value": 2},
        {"op": "set", "path": [], "value": 2},
        {"op": "set"},
        "text",
        {"op": "remove_step", "step": "none"},
        {"op": "add_step", "part": "none", "kind": "wear"},
        {"op": "move_mark", "mark": "none", "to": 0},
        {"op": "add_mark", "mark": "x"},
        {"op": "set", "path": ["stack", "none", "name"], "value": ""},
        {"op": "set", "path": ["size_px", 0], "value": 99999999},
        {"op": "set", "path": ["ppi"], "value": "many"},
    ],
)
def test_edits_that_do_not_fit_are_refused(worked, change):
    with pytest.raises(KilnError):
        apply(worked, change)


def test_all_edits_or_none(worked):
    good = {"op": "set", "path": ["ppi"], "value": 150}
    with pytest.raises(KilnError):
        apply(worked, good, {"op": "sparkle"})
    assert worked.ppi == 300


def test_every_step_kind_says_what_its_sheet_needs():
    for kind in STEPS.values():
        assert kind.sentence.endswith(".") and kind.summary(kind.settings())
        for name, field in kind.settings.model_fields.items():
            if name == "held":
                continue  # no control sets it
            assert field.title and field.description, f"{kind.kind}.{name}"
            assert field.json_schema_extra["control"], f"{kind.kind}.{name}"


def test_a_document_is_plain_json(worked):
    tree = json.loads(document.dump(worked))
    assert tree["format"] == document.FORMAT and tree["stack"][0]["placement"]["x"] == px(200)


def test_a_number_that_steps_were_once_given_is_read_over():
    tree = piece(mark(treatment=[step("grain")])).model_dump(mode="json")
    tree["stack"][0]["treatment"][0]["rev"] = 2
    read = document.load(tree)
    assert len(read.stack[0].treatment) == 1 and '"rev"' not in document.dump(read)
