"""Textures: read from any file, sampled without a shift or seam, made without one."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kilncore.compiled.program import Program
from kilncore.errors import UnusableFile
from kilncore.geometry.box import Box
from kilncore.measure.histogram import histogram
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length
from kilncore.textures import reading
from kilncore.textures.registers import premultiplied
from kilncore.textures.texture import Texture
from tests.pictures import jpeg, png

NOISE = np.random.default_rng(1).integers(0, 255, (99, 99, 3), dtype=np.uint8)
FRAME = Frame(100, 80, 0.0, 50, 300)


def sampled(texture, edges="repeat", frame=FRAME, box=(0, 0, 200, 160), **place):
    return texture.sample(frame.texture_matrix(TexturePlacement(**place)), *box, edges)[0]


@pytest.fixture
def texture(rng):
    return Texture(rng.integers(0, 256, (3, 48, 64)))


def test_unmoved_it_is_itself_repeated(texture):
    """Its middle lies on the frame's middle, pixel for pixel."""
    found = sampled(texture)
    expected = np.tile(texture.planes, (1, 9, 9)) / np.float32(255)
    np.testing.assert_allclose(
        found[:, 80 - 24 : 80 + 24, 100 - 32 : 100 + 32], texture.planes / 255, atol=1e-7
    )
    np.testing.assert_allclose(found[:, 0:48, 4:68], expected[:, 40:88, 0:64], atol=1e-7)


@pytest.mark.parametrize(
    "place, turned",
    [
        ({"rotation_deg": 90}, lambda p: np.rot90(p, -1, (1, 2))),
        ({"rotation_deg": 180}, lambda p: np.rot90(p, 2, (1, 2))),
        ({"flip_x": True}, lambda p: p[:, :, ::-1]),
        ({"flip_y": True}, lambda p: p[:, ::-1]),
    ],
)
def test_turned_and_flipped(texture, place, turned):
    expected = turned(texture.planes) / np.float32(255)
    _, h, w = expected.shape
    found = sampled(texture, **place)[:, 80 - h // 2 : 80 + h // 2, 100 - w // 2 : 100 + w // 2]
    np.testing.assert_allclose(found, expected, atol=1e-5)


def test_moved_by_millimetres_and_by_the_marks_height(texture):
    """10 mm at 254 ppi are 100 px; 20 % of a mark 50 px tall are 10 px."""
    frame = Frame(100, 80, 0.0, 50, 254)
    moved = sampled(
        texture, frame=frame, x=Length(value=10, unit="mm"), y=Length(value=20, unit="%")
    )
    np.testing.assert_allclose(
        moved, sampled(texture, frame=frame, x=Length(value=100), y=Length(value=10)), atol=1e-6
    )


def test_it_turns_with_its_mark(texture):
    with_mark = sampled(texture, frame=Frame(100, 80, np.pi / 2, 50, 300))
    np.testing.assert_allclose(with_mark, sampled(texture, rotation_deg=90), atol=1e-5)


def test_mirrored_when_it_does_not_tile(texture):
    edge = sampled(texture, edges="mirror")[:, :, 100 + 30 : 100 + 34]
    np.testing.assert_array_equal(edge[:, :, 1], edge[:, :, 2])


def test_made_smaller_it_keeps_its_mean_and_loses_its_noise(texture):
    small = sampled(texture, scale=0.1)
    assert small.mean() == pytest.approx(texture.planes.mean() / 255, abs=0.01)
    assert small.std() < 0.1 < (texture.planes / 255).std()


def test_made_larger_it_is_smooth(rng):
    ramp = Texture(np.tile(np.arange(0, 256, 4), (64, 1))[None])
    row = sampled(ramp, scale=4.0, box=(0, 70, 200, 1))[0, 0]
    np.testing.assert_allclose(np.diff(row)[3:-3], 4 / 255 / 4, atol=1e-4)


def test_reading_keeps_every_pixel(rng):
    pixels = rng.integers(0, 256, (20, 30, 3), dtype=np.uint8)
    np.testing.assert_array_equal(reading.read(png(pixels)).planes, np.moveaxis(pixels, 2, 0))
    grey = pixels[..., 0]
    np.testing.assert_array_equal(reading.read(png(grey)).planes[0], grey)


def test_transparency_counts_as_black_in_a_mask():
    pixels = np.full((20, 20, 4), 255, np.uint8)
    pixels[:, :10, 3] = 0
    mask = reading.read(png(pixels)).luminance.planes[0]
    assert mask[:, :10].max() == 0 and mask[:, 10:].min() == 65535


def test_a_phone_picture_comes_upright():
    """EXIF orientation 6: turn a quarter clockwise."""
    from PIL import Image

    pixels = np.zeros((20, 40, 3), np.uint8)
    pixels[:, :20] = 250
    exif = Image.Exif()
    exif[0x0112] = 6
    texture = reading.read(jpeg(pixels, exif=exif, quality=95))
    assert (
        texture.size == (20, 40)
        and texture.planes[:, :18].mean() > 200 > 50 > texture.planes[:, 22:].mean()
    )


def test_sixteen_bits_stay_sixteen():
    import io

    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(np.full((20, 20), 0x8000, np.uint16)).save(out, "PNG")
    found = reading.read(out.getvalue())
    assert found.planes.dtype == np.uint16 and (found.planes == 0x8000).all()
    assert histogram(found.planes)[128] == 400


@pytest.mark.parametrize(
    "data, reason",
    [
        (b"", "not a PNG, JPEG, WebP"),
        (b"<svg/>", "does not say how large"),
        (png(NOISE)[:3000], "damaged"),
        (jpeg(NOISE)[:2000], "damaged"),
        (png(np.zeros((4, 40), np.uint8)), "least each way"),
    ],
)
def test_unusable_files_are_refused_in_words(data, reason):
    with pytest.raises(UnusableFile, match=reason):
        reading.read(data)


def test_a_picture_with_too_many_pixels_is_refused_before_it_is_read():
    header = bytearray(png(np.zeros((20, 20), np.uint8)))
    header[16:24] = (60_000).to_bytes(4, "big") * 2
    import zlib

    header[29:33] = zlib.crc32(header[12:29]).to_bytes(4, "big")
    with pytest.raises(UnusableFile, match="million pixels"):
        reading.read(bytes(header))


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 2000), st.binary(min_size=1, max_size=12))
def test_broken_files_end_in_a_picture_or_a_refusal(at, junk):
    data = bytearray(png(np.arange(3072, dtype=np.uint8).reshape(32, 32, 3)))
    data[at % len(data) : at % len(data) + len(junk)] = junk
    try:
        assert reading.read(bytes(data)).planes.ndim == 3
    except UnusableFile as refusal:
        assert refusal.message


def test_the_histogram_counts_every_pixel(rng):
    grey = rng.integers(0, 256, (1, 30, 40), dtype=np.uint8)
    counts = histogram(grey)
    np.testing.assert_array_equal(counts, np.histogram(grey, 256, (0, 256))[0])


def zone(size=1024):
    """A pattern that grows finer towards its edges, as fine as pixels can hold."""
    y, x = np.mgrid[:size, :size] - size / 2 + 0.5
    return Texture(np.rint(127.5 + 127.5 * np.cos(np.pi / size * (x * x + y * y)))[None])


@pytest.mark.parametrize("turn", [0.0, 20.0])
def test_made_smaller_by_eight_it_neither_aliases_nor_shimmers(turn):
    """Finer than an output pixel there is nothing but the mean; moved by parts of a pixel, that
    does not change.
    """
    texture = zone()
    pictures = [
        sampled(
            texture,
            frame=Frame(64 + dx, 64, 0.0, 50, 300),
            box=(0, 0, 128, 128),
            scale=0.125,
            rotation_deg=turn,
        )[0]
        for dx in (0, 0.25, 0.5)
    ]
    fine = (
        np.hypot(*(np.mgrid[:128, :128] - 63.5)) > 20
    )  # there the rings are narrower than a third of an output pixel
    inside = np.hypot(*(np.mgrid[:128, :128] - 63.5)) < 50
    for picture in pictures:
        assert picture[fine & inside].std() < 0.05 and picture[
            fine & inside
        ].mean() == pytest.approx(0.5, abs=0.01)
    assert np.abs(pictures[0] - pictures[2])[fine & inside].mean() < 0.03


def test_made_smaller_it_is_the_mean_of_what_a_pixel_covers(texture):
    """Area average by hand: 64 x 48 px at a half, on whole pixels."""
    small = sampled(texture, frame=Frame(16, 12, 0.0, 50, 300), box=(0, 0, 32, 24), scale=0.5)
    np.testing.assert_allclose(
        small, (texture.planes / 255).reshape(3, 24, 2, 32, 2).mean((2, 4)), atol=1e-5
    )


@pytest.mark.parametrize(
    "place",
    [{}, {"scale": 0.7}, {"scale": 2.3}, {"rotation_deg": 33}, {"scale": 0.4, "rotation_deg": 33}],
)
def test_a_texture_may_end(texture, place):
    """Its share is 1 on it and 0 beyond, and adds up to its area (64 x 48 px, scaled)."""
    planes, share = texture.sample(
        FRAME.texture_matrix(TexturePlacement(**place)), 0, 0, 200, 160, "none"
    )
    area = 64 * 48 * place.get("scale", 1.0) ** 2
    assert share.sum() == pytest.approx(area, rel=0.03) and share[80, 100] == pytest.approx(
        1, abs=1e-4
    )
    program = Program(Box(0, 0, 200, 160))
    picture = program.planes(premultiplied(program.load(planes), program.load(share[None])[0]))
    program.run()
    assert (
        len(picture) == 4 and not picture[:, share == 0].any() and (picture[:3] <= picture[3]).all()
    )


def test_beyond_its_end_a_texture_wears_nothing(store):
    """Nothing is there, so nothing happens there."""
    from kilncore import engine
    from tests.documents import lettering, mark, piece
    from tests.documents import step as asked

    black = {"hash": store.keep(png(np.zeros((40, 40), np.uint8))), "edges": "none"}
    bare = engine.render(piece(mark(lettering("MMM", 120)), ground={"kind": "none"}), assets=store)[
        ..., 3
    ]
    worn = engine.render(
        piece(
            mark(lettering("MMM", 120), treatment=[asked("wear", texture=black)]),
            ground={"kind": "none"},
        ),
        assets=store,
    )[..., 3]
    gone = np.abs(bare - worn) > 1e-6
    rows, columns = np.nonzero(gone)
    assert gone.any() and np.ptp(rows) <= 41 and np.ptp(columns) <= 41


def test_sixteen_bits_are_finer_than_eight():
    """A ramp of 16 bits stays a ramp, enlarged or made smaller; one of 8 has 256 tones."""
    ramp = np.linspace(20000, 24000, 512).astype(np.uint16)
    texture = Texture(np.tile(ramp, (64, 1))[None])
    for scale in (1.0, 4.0, 0.5):
        row = sampled(
            texture, scale=scale, box=(0, 80, 200, 1), frame=Frame(100, 80, 0.0, 50, 300)
        )[0, 0]
        assert len(np.unique(np.round(row[np.gradient(row) > 0], 6))) > 60


def test_an_eight_bit_map_makes_no_terraces(store):
    """A slow ramp of 8 bits is a stair of some 20 px a step; the shift that follows it must not be
    one.

    Against the same ramp in 16 bits: a stair's shift would be off by up to half a step, 60 / 510 =
    0.118 px.
    """
    from kilncore.planes.debanding import debanded, debanding_reach

    smooth = np.tile(np.linspace(0.4, 0.5, 512, dtype=np.float32), (128, 1))[None]
    stair = np.rint(smooth * 255).astype(np.float32) / 255
    border = debanding_reach(1.0)
    found, left, top = debanded(stair, 1.0, 0, 0)
    true = smooth[:, border:-border, border:-border]
    raw = stair[:, border:-border, border:-border]
    assert (left, top) == (border, border)
    assert 60 * np.abs(found - true).mean() < 0.3 * 60 * np.abs(raw - true).mean()
    assert np.abs(np.diff(found)).max() < 0.25 * np.abs(np.diff(raw)).max()
    assert np.abs(found - raw).max() <= 0.5 / 255 + 1e-6  # and 8 bits would store it as what it was


def test_a_drafts_mask_is_the_mean_of_its_levels(rng):
    """One-pixel noise through a threshold, from afar: a share of the pixels is kept, not all or
    none.
    """
    texture = Texture(rng.integers(0, 256, (1, 256, 256)))
    toned = texture.toned(1.0, False, 0.8, 1.0, 0.8)
    matrix = Frame(0, 0, 0.0, 50, 300, scale=0.125).texture_matrix(TexturePlacement())
    (mask, squared), _ = toned.sample(matrix, 0, 0, 24, 24, "repeat")
    np.testing.assert_allclose(squared, mask, atol=2e-3)  # what is all or nothing is its own square
    assert (
        mask.mean() == pytest.approx((texture.planes >= 204).mean(), abs=0.01)
        and 0.03 < mask.min()
        and mask.max() < 0.45
    )


@pytest.mark.parametrize(
    "ratio, turned",
    [
        (0.6, True),
        (1.0, True),
        (1.25, True),
        (1.7, True),
        (0.6, False),
        (1.0, False),
        (1.5, False),
        (1.9, False),
    ],
)
def test_a_drafts_mask_is_as_soft_as_the_finished_pictures(rng, ratio, turned):
    """White noise read at scale 1 keeps so much of its spread; brought to the same softness first,
    as much of it.
    """
    texture = Texture(rng.integers(0, 256, (1, 512, 512)))
    place = TexturePlacement(scale=1 / ratio, rotation_deg=19 if turned else 0)
    finished, _ = texture.sample(
        Frame(0, 0, 0.0, 50, 300).texture_matrix(place), 0, 0, 300, 300, "repeat"
    )
    toned = texture.toned(ratio, turned, 0.0, 1.0, 1.0).planes[0] / 65535
    assert toned.std() == pytest.approx(finished.std(), rel=0.12)


def test_smaller_copies_are_made_once_however_many_ask(rng):
    """Two threads that want the same copy get the same one, and every copy is half of the last."""
    import threading

    for _ in range(5):
        texture = Texture(rng.integers(0, 256, (3, 512, 512)))
        found = []
        threads = [
            threading.Thread(target=lambda t=texture, f=found: f.append(t.level(4)))
            for _ in range(8)
        ]
        [t.start() for t in threads], [t.join() for t in threads]
        assert all(one is found[0] for one in found)
        assert [texture.level(n).shape[2] for n in range(5)] == [512, 256, 128, 64, 32]
