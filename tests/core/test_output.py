"""Fired files, read back with Pillow, which did not write them."""

import io

import numpy as np
import pytest
from PIL import Image, ImageCms

from kilncore import engine
from kilncore.assets import AssetStore, write_whole
from kilncore.errors import KilnError, Superseded
from kilncore.output.fire import fire
from tests.documents import every_step, mark, piece


def test_a_fired_file_holds_the_rendered_pixels(tmp_path, texture, store):
    document = piece(mark(treatment=every_step(texture)), size=(700, 560))
    fired = fire(document, tmp_path / "out.png", store)
    image = Image.open(fired.path)
    assert image.size == (700, 560) == (fired.width, fired.height) and image.mode == "RGB"
    expected = engine.render(document, assets=store)[..., :3] * 255
    assert np.abs(np.asarray(image) - expected).max() <= 0.5 + 1e-3  # rounded; a float's own error may tip a half


@pytest.mark.parametrize("ppi", [72, 300, 600])
def test_the_ppi_is_written(tmp_path, ppi, store):
    """PNG, pHYs: whole px per metre, so that ppi come back within half a px per metre."""
    image = Image.open(fire(piece(mark(), ppi=ppi), tmp_path / "out.png", store).path)
    assert image.info["dpi"][0] == pytest.approx(ppi, abs=0.02)
    profile = ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
    assert "sRGB" in ImageCms.getProfileDescription(profile)


def test_without_its_ground_it_is_transparent(tmp_path, store):
    image = np.asarray(Image.open(fire(piece(mark()), tmp_path / "out.png", store, with_ground=False).path))
    assert image.shape[2] == 4 and image[0, 0, 3] == 0 and image[..., 3].max() == 255
    inside = image[image[..., 3] == 255]
    assert (inside[:, :3] == (0xC0, 0x30, 0x20)).all()


def test_without_a_ground_blend_modes_act_as_normal(tmp_path, store):
    plain, multiplied = (np.asarray(Image.open(fire(piece(mark(mode=mode)), tmp_path / f"{mode}.png", store, with_ground=False).path))
                         for mode in ("normal", "multiply"))
    np.testing.assert_array_equal(plain, multiplied)


def test_progress_runs_to_its_end(tmp_path, store):
    shares = []
    fire(piece(mark(), size=(2400, 700)), tmp_path / "out.png", store, progress=shares.append)
    assert shares[-1] == 1 and len(shares) == 6 and shares == sorted(shares)


def test_a_stopped_or_impossible_firing_leaves_no_file(tmp_path, store):
    with pytest.raises(Superseded):
        fire(piece(mark()), tmp_path / "out.png", store, cancelled=lambda: True)
    with pytest.raises(KilnError, match="format must be"):
        fire(piece(mark()), tmp_path / "out.gif", store, format="gif")
    assert not list(tmp_path.glob("*.png"))


def test_files_are_kept_whole_and_once(tmp_path):
    store = AssetStore(tmp_path)
    name = store.keep(b"rope")
    assert store.keep(b"rope") == name and store.data(name) == b"rope"
    assert [p.name for p in store.path(name).parent.iterdir()] == [name]


def test_a_failed_write_leaves_the_old_file(tmp_path, monkeypatch):
    write_whole(tmp_path / "a", b"old")
    monkeypatch.setattr("os.replace", lambda *a: (_ for _ in ()).throw(OSError("no room")))
    with pytest.raises(OSError, match="no room"):
        write_whole(tmp_path / "a", b"new")
    assert (tmp_path / "a").read_bytes() == b"old" and len(list(tmp_path.iterdir())) == 1


def test_a_file_packed_in_bands_is_one_picture(rng, tmp_path):
    """RFC 1950: one stream and one checksum over all bands; read with Pillow and with libvips, which check it."""
    import io
    import zlib

    import pyvips

    from kilncore.output.png import encoded

    for channels in (1, 3, 4):
        pixels = rng.integers(0, 256, (300, 77, channels), dtype=np.uint8)
        pixels[50:90] = 7
        data = encoded(pixels)
        np.testing.assert_array_equal(np.asarray(Image.open(io.BytesIO(data))).reshape(pixels.shape), pixels)
        chunks = data.split(b"IDAT")[1:]  # every chunk's data ends four bytes of checksum and four of length before the next
        assert len(zlib.decompress(b"".join(chunk[:-8] for chunk in chunks[:-1]) + chunks[-1].split(b"IEND")[0][:-8])) == 300 * (77 * channels + 1)
        read = pyvips.Image.new_from_buffer(data, "", fail_on="warning")
        assert (read.width, read.height, read.bands) == (77, 300, channels) and abs(read.avg() - pixels.mean()) < 1e-6


def test_checksums_join():
    import zlib

    from kilncore.output.deflate import joined_adler

    first, second = bytes(range(256)) * 300, b"night ferry" * 9999
    assert joined_adler(zlib.adler32(first), zlib.adler32(second), len(second)) == zlib.adler32(first + second)


def test_a_firing_holds_no_more_than_a_few_bands(tmp_path):
    """Bounded memory: bands are written as they come, in order, and let go."""
    from kilncore.output import fire as firing

    held = []

    class Spy(firing._Bands):
        def done(self, box):
            super().done(box)
            held.append(len(self.open) + len(self.ready))

    original, firing._Bands = firing._Bands, Spy
    try:
        fire(piece(mark(), size=(700, 4000)), tmp_path / "tall.png", None)
    finally:
        firing._Bands = original
    assert len(held) == 16 and max(held) <= 3
