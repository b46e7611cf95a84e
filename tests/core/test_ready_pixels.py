"""Prepared textures in the store and in pictures: ready pixels on disk, drafts, keys."""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from kilncore.assets import AssetStore, ready_key
from kilncore.document import dump, load
from kilncore.engine.covering import not_covered
from kilncore.engine.draft_textures import with_draft_textures
from kilncore.graph.keys import key_of
from kilncore.model.texture import TexturePlacement
from kilncore.pixels.stored import to_floats
from kilncore.prep.texture_ref import DraftRef, TextureRef
from kilncore.textures import ready
from kilncore.textures.prep import apply, chain_of
from kilncore.textures.preparing import mosaic
from kilncore.textures.ready import ReadyFiles
from kilncore.textures.texture import MAPPED_COUNTS, Texture
from tests.documents import mark, piece, step
from tests.pictures import png

SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="100" height="80" viewBox="0 0 100 80">'
    b'<circle cx="30" cy="40" r="20"/></svg>'
)
CHAIN = [
    {"kind": "grey"},
    {"kind": "flatten"},
    {"kind": "two-tone", "share": 0.2},
    {"kind": "specks", "least_px": 3},
]


@pytest.fixture
def scan(store, rng):
    """The name of a large unevenly lit picture in the store."""
    soft = ndimage.gaussian_filter(rng.random((1500, 2000)), 2)
    soft = (soft - soft.min()) / np.ptp(soft) * np.linspace(0.5, 1, 2000)
    return store.keep(png(np.rint(np.stack([soft] * 3, 2) * 255).astype(np.uint8)))


def test_ready_pixels_are_what_the_operations_make(store, scan):
    ref = TextureRef(hash=scan, chain=CHAIN)
    found = store.texture(ref)
    wanted = apply(to_floats(store.source(scan).planes)[..., :3], CHAIN, wraps=True)
    assert np.abs(found.planes[0] / 65535 - wanted).max() < 0.02 and found.planes.dtype == np.uint16
    assert store.is_ready(ref) and store.texture(ref) is found


def test_a_file_that_has_to_be_made_seamless_does_not_repeat_before():
    for chain, wraps in (([], True), ([{"kind": "seamless"}], False), ([{"kind": "mirror"}], True)):
        assert TextureRef(hash="a" * 64, edges="repeat", chain=chain).wraps is wraps
    assert not TextureRef(hash="a" * 64, edges="mirror").wraps
    off = [{"kind": "seamless", "on": False}]
    assert TextureRef(hash="a" * 64, edges="repeat", chain=off).wraps


def test_they_lie_on_disk_and_are_there_again(store, scan):
    ref = TextureRef(hash=scan, chain=CHAIN)
    first = store.texture(ref)
    again = AssetStore(store.folder)
    assert again.is_ready(ref)
    found = again.texture(ref)
    assert (
        found.planes == first.planes
    ).all() and found.nbytes == MAPPED_COUNTS < first.planes.nbytes
    for number in range(5):
        assert (found.level(number) == Texture(first.planes).level(number)).all()


def test_what_is_damaged_or_lost_is_made_again(store, scan):
    ref = TextureRef(hash=scan, chain=CHAIN)
    first = store.texture(ref).planes.copy()
    (path,) = (store.folder / "ready").iterdir()
    for harm in (lambda: path.write_bytes(path.read_bytes()[:99_000]), lambda: path.unlink()):
        harm()
        found = AssetStore(store.folder).texture(ref)
        assert (found.planes == first).all() and path.exists()
    path.write_bytes(b'{"size": [9e9, 1], "copies": [{"at": -5, "shape": [1], "type": "O"}]}\n')
    assert (AssetStore(store.folder).texture(ref).planes == first).all()


def test_a_full_disk_keeps_them_in_memory(store, scan, monkeypatch):
    monkeypatch.setattr(ready, "LEFT_FREE", 2**62)
    ref = TextureRef(hash=scan, chain=CHAIN)
    assert store.texture(ref).planes.any() and store.is_ready(ref)
    assert not list((store.folder / "ready").iterdir())


def test_the_folder_keeps_to_its_budget(tmp_path, rng):
    files = ReadyFiles(tmp_path / "ready", budget=3_000_000)
    made = Texture(rng.integers(0, 65535, (1, 600, 700), np.uint16))
    for key in "abcd":
        files.put(key, made)
        if key == "c":
            assert files.find("b") is not None
    assert "d" in files and "a" not in files
    assert sum(path.stat().st_size for path in files.folder.iterdir()) < 3_600_000


def test_keys_leave_out_ids_lineage_and_what_is_off():
    one, other = (
        TextureRef(hash="a" * 64, chain=chain, prep=prep)
        for chain, prep in (
            ([{"kind": "invert", "id": "x"}], ""),
            ([{"kind": "invert"}, {"kind": "blur", "on": False}], "0a-1b"),
        )
    )
    assert key_of(one) == key_of(other) and one != other
    assert key_of(one) != key_of(TextureRef(hash="a" * 64))
    keys = {ready_key("a", one.chain, wraps, level) for wraps in (0, 1) for level in (0, 1)}
    assert len(keys) == 4


def test_shares_of_a_draft_are_solved_from_full_size_pixels(store, rng):
    """Fine specks: an averaged copy has hardly any dark tones."""
    noise = np.where(rng.random((1600, 1600)) < 0.3, 20, 230).astype(np.uint8)
    name = store.keep(png(np.stack([noise] * 3, 2)))
    counts = store.counts(name, (), True)
    assert counts[: 65536 // 2].sum() / counts.sum() == pytest.approx(0.3, abs=0.01)
    chain = chain_of([{"kind": "blur", "sigma_px": 1}, {"kind": "two-tone", "share": 0.25}])
    (blur, two_tone) = chain
    before = store.counts(name, (blur,), True)
    points = two_tone.solved(before)
    store.texture(TextureRef(hash=name, chain=chain))  # now they are known from all pixels
    true = two_tone.solved(store.counts(name, (blur,), True))
    assert points.black == pytest.approx(true.black, abs=0.01)


def test_a_mosaic_is_full_size_parts_from_everywhere(rng):
    planes = rng.integers(0, 255, (1, 3000, 2600), np.uint8)
    found = mosaic(planes)
    assert found.shape == (1, 1024, 1024)
    assert (found[0, :256, :256] == planes[0, 247:503, 197:453]).all()
    assert (mosaic(planes[:, :500])[0].shape) == (500, 1024)


def worn(scan, chain=CHAIN, **placement):
    texture = {"hash": scan, "chain": chain}
    place = {"scale": 0.5, **placement}
    worn = step("wear", texture=texture, placement=place, black=0.2, white=0.8)
    return piece(mark(treatment=[worn]))


def test_a_document_carries_its_chain(scan):
    document = worn(scan)
    assert load(dump(document)) == document and scan in document.files()


def test_a_crop_of_a_piece_with_a_prepared_texture_equals_the_whole(store, scan):
    document = worn(scan)
    whole = engine.exact(document, assets=store)
    height, width = whole.shape[:2]
    part = engine.exact(document, (17, 9, width - 40, height - 30), assets=store)
    assert (part == whole[9 : height - 21, 17 : width - 23]).all()


def test_drafts_while_it_is_not_ready_and_the_exact_picture_makes_it_so(store, scan):
    document = worn(scan)
    draft = with_draft_textures(document, store)
    (ref,) = [s.params.texture for s in draft.stack[0].treatment]
    assert (
        isinstance(ref, DraftRef) and ref.level >= 1 and draft.stack[0].art is document.stack[0].art
    )
    early = engine.render(draft, scale=0.5, assets=store)
    exact = engine.exact(document, scale=0.5, assets=store)
    assert np.abs(early - exact).mean() < 0.03
    assert with_draft_textures(document, store) is document
    plain = piece(mark())
    assert with_draft_textures(plain, store) is plain


def test_how_much_a_texture_with_an_end_does_not_cover(store):
    document = piece(
        mark(art={"kind": "lettering", "text": "II", "size": {"value": 90, "unit": "px"}})
    )
    item = document.stack[0].id
    far = TexturePlacement(x={"value": 9000, "unit": "px"})
    assert not_covered(document, item, TexturePlacement(), (5000, 5000), store) == 0
    assert not_covered(document, item, far, (100, 100), store) == 1
    width = document.size_px[0]
    half = not_covered(document, "ground", TexturePlacement(), (width // 2, 9999), store)
    assert half == pytest.approx(0.5, abs=0.02)


def test_a_drawing_is_as_sharp_as_it_is_enlarged(store):
    name = store.keep(SVG)
    found = store.texture(TextureRef(hash=name))
    assert found.size == (2048, 1638) and len(found.planes) == 4
    scale = 4.0  # document px per texture px
    matrix = (1 / scale, 0, 0, 1 / scale, -204.8, 0)
    pixels, _ = found.luminance.sample(matrix, 0, -40, 200, 80, "repeat")
    steep = np.abs(np.diff(pixels[0][40]))
    assert steep.max() > 0.5 or pixels.min() == pixels.max()
    mask = found.luminance.planes[0]
    assert mask[0, 0] == 65535 and mask[819, 614] == 0  # see-through stays, ink takes away


def test_a_drawing_can_be_prepared(store):
    name = store.keep(SVG)
    found = store.texture(TextureRef(hash=name, chain=[{"kind": "grey"}, {"kind": "invert"}]))
    assert found.planes[0, 0, 0] == 0 and found.planes[0, 819, 614] == 65535
