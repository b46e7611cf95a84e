"""What was measured outlives the process; whole-item values are worked out side by side."""

import threading

import numpy as np
import pytest

from kilncore import engine
from kilncore.assets import AssetStore
from kilncore.document import Piece
from kilncore.engine import pool, wholes
from kilncore.engine.plans import plan_of
from kilncore.engine.reader import Reader
from kilncore.system.cache import ByteCache
from kilncore.system.kept_values import KeptValues
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png

ARRAYS = {"counts": np.arange(12, dtype=np.float32).reshape(3, 4), "told": np.array(True)}
SIZE = (400, 240)


@pytest.fixture
def kept(tmp_path):
    return KeptValues(tmp_path / "values")


@pytest.fixture
def measuring(tmp_path, monkeypatch):
    """A store that keeps all that is measured, however quick it was."""
    monkeypatch.setattr(wholes, "WORTH_KEEPING", -1.0)
    return AssetStore(tmp_path / "assets", measured=tmp_path / "measured")


def worn(store: AssetStore) -> Piece:
    """Lettering whose wear has an aim and keeps its strokes whole, softened like its ground."""
    rng = np.random.default_rng(4)
    noise = np.repeat(np.repeat(rng.integers(0, 255, (60, 80), np.uint8), 5, 0), 5, 1)
    texture = {"hash": store.keep(png(noise))}
    wear = step("wear", texture=texture, aim=True, share=0.3, least_stroke=px(6))
    ground = {"kind": "texture", "texture": texture, "placement": {"x": px(0), "y": px(0)}}
    return piece(
        mark(lettering("Hb", size=150), x=200, y=120, treatment=[wear, step("soften")]),
        ground=ground,
        size=SIZE,
    )


def drawn(document: Piece, store: AssetStore) -> np.ndarray:
    """By nothing that was measured before in this process."""
    return engine.pixels(document, assets=store, truly=True, cache=ByteCache())


def test_values_are_there_for_the_next_process(kept, tmp_path):
    kept.put("k", ARRAYS)
    kept.settle()
    found = KeptValues(tmp_path / "values").find("k")
    assert found.keys() == ARRAYS.keys()
    for name, array in ARRAYS.items():
        assert found[name].dtype == array.dtype and np.array_equal(found[name], array)
    assert kept.find("other") is None


@pytest.mark.parametrize("damage", ["cut", "bit", "empty", "objects"])
def test_what_is_damaged_is_not_there(kept, damage):
    kept.put("k", ARRAYS)
    kept.settle()
    (path,) = kept.folder.iterdir()
    data = bytearray(path.read_bytes())
    if damage == "bit":
        data[len(data) // 2] ^= 4
    left = {"cut": data[:-30], "bit": data, "empty": b"", "objects": b"\x80\x04N." * 20}[damage]
    path.write_bytes(left)
    assert kept.find("k") is None


def test_the_folder_keeps_to_its_budget(tmp_path, monkeypatch):
    monkeypatch.setattr("kilncore.system.kept_values.TIDIED_EVERY", 1 + 1)
    kept = KeptValues(tmp_path, budget=20_000)
    noise = np.random.default_rng(1).integers(0, 255, 6000, np.uint8)
    for name in "abcdefg":
        kept.put(name, {"noise": noise})
    kept.settle()
    there = [path.stem for path in sorted(tmp_path.iterdir())]
    assert "g" in there and "a" not in there and len(there) <= 4
    kept.put("large", {"noise": np.zeros(9 * 2**20, np.uint8)})
    kept.settle()
    assert kept.find("large") is None


def test_pictures_are_the_same_to_the_bit_from_kept_values(measuring, monkeypatch):
    document = worn(measuring)
    first = drawn(document, measuring)
    measuring.measured.settle()
    solved = []
    monkeypatch.setattr(
        wholes,
        "_solved",
        lambda value, *given, real=wholes._solved: solved.append(value) or real(value, *given),
    )
    assert np.array_equal(drawn(document, measuring), first)
    assert not [one for one in solved if one.packed.__qualname__ != "WholeValue.packed"]
    assert solved  # its shape, which is quick


@pytest.mark.parametrize("wrong", [{}, {"counts": np.zeros((2, 3), np.float32)}])
def test_kept_values_of_another_sort_are_measured_again(measuring, wrong):
    document = worn(measuring)
    first = drawn(document, measuring)
    measuring.measured.settle()
    wrong |= {name: np.zeros((1, 2)) for name in ("labels", "had", "gone", "points", "more")}
    for path in list(measuring.measured.folder.iterdir()):
        measuring.measured.put(path.stem, wrong)
    measuring.measured.settle()
    assert np.array_equal(drawn(document, measuring), first)


def test_whether_a_texture_has_two_tones_is_told_once(measuring, tmp_path, monkeypatch):
    two = np.repeat(np.repeat(np.indices((40, 40)).sum(0) % 2, 8, 0), 8, 1) * 255
    name = measuring.keep(png(two.astype(np.uint8)))
    told = measuring._preparing.has_two_tones(name, (), False, lambda: measuring.source(name))
    measuring.measured.settle()
    later = AssetStore(tmp_path / "assets", measured=tmp_path / "measured")
    again = later._preparing.has_two_tones(name, (), False, lambda: pytest.fail("read again"))
    assert told is again is True


def test_values_that_need_none_another_are_worked_out_side_by_side(store):
    """Each waits until another is being worked out, too."""
    both = threading.Barrier(2, timeout=20)
    pool.side_by_side(lambda _: both.wait(), [1, 2])


def test_levels_stand_on_what_they_need(store):
    plan = plan_of(worn(store), 1.0)
    reader = Reader(store, ByteCache())
    node = plan.finished().node
    nodes = wholes.cache_policy.in_order(node, also=lambda one: wholes._first(reader, one))
    levels = wholes._levels(nodes, reader)
    at = {value.key: number for number, level in enumerate(levels) for value in level}
    assert len(at) == sum(map(len, levels)) and len(levels) >= 3
    for level in levels:
        for value in level:
            assert all(at[needed.key] < at[value.key] for needed in value.needs)
            read = wholes.cache_policy.in_order(value.reads) if value.reads else []
            under = [one for below in read for one in below.wholes]
            assert all(at[one.key] < at[value.key] for one in under if one.key != value.key)
