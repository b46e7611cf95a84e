"""Pictures: read in every format, prepared live, placed to the pixel; and refused in words."""

import io
import struct
import time
import zlib

import cv2
import numpy as np
import pytest
import pyvips
from PIL import Image, ImageCms

from kilncore import edits, engine
from kilncore.artwork.intake import brought_in
from kilncore.assets import AssetStore
from kilncore.document import load
from kilncore.errors import KilnError, UnusableFile
from kilncore.fills.picture import PictureFill
from kilncore.layout.layout import Layout
from kilncore.measure import flat_colours
from kilncore.textures.reading import read
from tests.documents import mark, piece
from tests.pictures import jpeg, png

RNG = np.random.default_rng(6)
FLAG = np.zeros((60, 80, 3), np.uint8)
FLAG[:] = (200, 60, 30)
FLAG[30:, 40:] = (20, 90, 200)
CLEAR = np.dstack([FLAG, np.full((60, 80), 255, np.uint8)])
CLEAR[:20, :, 3] = 0


def vips(pixels=FLAG):
    high, wide, bands = pixels.shape
    image = pyvips.Image.new_from_memory(pixels.tobytes(), wide, high, bands, "uchar")
    return image.copy(interpretation="srgb")


def deep():
    return (vips().cast("ushort") * 257).cast("ushort").copy(interpretation="rgb16")


def pillow(kind, image=None, **options) -> bytes:
    out = io.BytesIO()
    (image or Image.fromarray(FLAG)).save(out, kind, **options)
    return out.getvalue()


FILES = {
    "png": png(FLAG),
    "png palette": pillow("PNG", Image.fromarray(FLAG).quantize(8)),
    "png 16": deep().pngsave_buffer(),
    "jpeg": jpeg(FLAG, quality=98, subsampling=0),
    "webp": pillow("WEBP", lossless=True),
    "tiff": pillow("TIFF"),
    "tiff packed": pillow("TIFF", compression="tiff_lzw"),
    "tiff 16": deep().tiffsave_buffer(compression="deflate"),
    "tiff float": vips().colourspace("scrgb").tiffsave_buffer(),
    "gif": pillow("GIF", Image.fromarray(FLAG).quantize(8)),
    "gif, several frames": pillow(
        "GIF",
        Image.fromarray(FLAG).quantize(8),
        save_all=True,
        append_images=[Image.fromarray(255 - FLAG).quantize(8)],
    ),
    "avif": vips().heifsave_buffer(compression="av1", Q=95),
    "avif 10": deep().heifsave_buffer(compression="av1", bitdepth=10, Q=98),
}


@pytest.mark.parametrize("name", FILES)
def test_every_format_is_read(name):
    planes = read(FILES[name]).planes
    full = 255 if planes.dtype == np.uint8 else 65535
    assert planes.shape == (3, 60, 80)
    assert planes.dtype == (
        np.uint16 if "16" in name or "10" in name or "float" in name else np.uint8
    )
    for y, x in ((10, 10), (45, 60)):
        np.testing.assert_allclose(planes[:, y, x] / full * 255, FLAG[y, x], atol=3)
    found = brought_in(FILES[name])
    assert (found.kind, found.width, found.height) == ("picture", 80, 60)
    assert found.data == FILES[name] and found.facts["opaque"]


@pytest.mark.parametrize("kind", ["png", "webp", "tiff", "gif", "heif"])
def test_alpha_comes_with_it(kind):
    save = getattr(vips(CLEAR), f"{kind}save_buffer")
    data = save(compression="av1", Q=95) if kind == "heif" else save()
    planes = read(data).planes
    assert planes.shape[0] == 4 and planes[3, 5, 5] == 0 and planes[3, 40, 40] == 255
    assert not brought_in(data).facts["opaque"]


def test_wide_gamut_and_cmyk_come_to_srgb_as_littlecms_has_them():
    """Against littleCMS (through Pillow): Display-like RGB by an embedded profile, CMYK by its
    own.
    """
    srgb = ImageCms.createProfile("sRGB")
    ramp = RNG.integers(0, 256, (40, 60, 3), dtype=np.uint8)
    wide = Image.fromarray(ramp)
    lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB", 5000))
    for profile in (_wide_profile(), lab.tobytes()):
        theirs = ImageCms.profileToProfile(
            wide, ImageCms.ImageCmsProfile(io.BytesIO(profile)), srgb, renderingIntent=1
        )
        found = read(pillow("PNG", wide, icc_profile=profile)).planes
        away = np.abs(np.moveaxis(found, 0, 2).astype(int) - np.asarray(theirs))
        assert np.percentile(away, 99) <= 2
    cmyk = vips(ramp).icc_transform("cmyk", input_profile="srgb")
    data = cmyk.tiffsave_buffer()
    own = cmyk.get("icc-profile-data")
    inks = np.frombuffer(cmyk.write_to_memory(), np.uint8).reshape(40, 60, 4)
    theirs = ImageCms.profileToProfile(
        Image.frombytes("CMYK", (60, 40), inks.tobytes()),
        ImageCms.ImageCmsProfile(io.BytesIO(own)),
        srgb,
        renderingIntent=1,
        outputMode="RGB",
    )
    away = np.abs(np.moveaxis(read(data).planes, 0, 2).astype(int) - np.asarray(theirs))
    assert np.percentile(away, 99) <= 3


def _wide_profile() -> bytes:
    """A profile that is not sRGB: the one that libvips carries for Display P3."""
    image = vips().icc_transform("p3", input_profile="srgb")
    return image.get("icc-profile-data")


@pytest.mark.parametrize("noted", range(1, 9))
def test_the_camera_s_note_is_followed(noted):
    """Exif 2.3, Orientation: Pillow turns by the same note."""
    image = Image.fromarray(FLAG)
    exif = image.getexif()
    exif[0x0112] = noted
    data = pillow("JPEG", image, exif=exif, quality=98, subsampling=0)
    from PIL import ImageOps

    theirs = np.asarray(ImageOps.exif_transpose(Image.open(io.BytesIO(data))))
    np.testing.assert_allclose(np.moveaxis(read(data).planes, 0, 2), theirs, atol=3)


# --- prepared and placed ---


@pytest.fixture
def assets(tmp_path):
    return AssetStore(tmp_path)


def art(assets, pixels, *chain) -> dict:
    high, wide = pixels.shape[:2]
    settings = {"kind": "picture", "hash": assets.keep(png(pixels)), "width": wide, "height": high}
    return settings | {"chain": [{"id": f"op{n}", **one} for n, one in enumerate(chain)]}


def drawn(document, assets, scale=1.0, **more):
    return engine.pixels(document, None, scale, assets, **more)


def on_nothing(*marks, size=(200, 160)):
    return piece(*marks, ground={"kind": "none"}, size=size)


def test_unscaled_it_is_the_file_to_the_pixel(assets):
    pixels = RNG.integers(0, 256, (60, 80, 4), dtype=np.uint8)
    pixels[..., 3] = 255
    found = drawn(on_nothing(mark(art(assets, pixels), x=100, y=80)), assets)
    np.testing.assert_array_equal(found[50:110, 60:140], pixels)
    assert found[:50].max() == 0 and found[:, :60].max() == 0


def test_enlarged_and_made_smaller_it_is_as_pillow_makes_it(assets):
    """An area average of halves is the mean of 2 x 2 px: Pillow's BOX filter."""
    pixels = RNG.integers(0, 256, (80, 120, 3), dtype=np.uint8)
    found = drawn(on_nothing(mark(art(assets, pixels), x=100, y=80, scale=0.5)), assets)
    theirs = np.asarray(Image.fromarray(pixels).resize((60, 40), Image.Resampling.BOX))
    np.testing.assert_allclose(found[60:100, 70:130, :3].astype(int), theirs, atol=1)


@pytest.mark.parametrize(
    "operation, made",
    [
        ({"kind": "turn", "quarters": "1"}, lambda p: np.rot90(p, -1)),
        ({"kind": "turn", "quarters": "2"}, lambda p: np.rot90(p, 2)),
        ({"kind": "turn", "quarters": "3"}, lambda p: np.rot90(p, 1)),
        ({"kind": "flip", "way": "across"}, lambda p: p[:, ::-1]),
        ({"kind": "flip", "way": "down"}, lambda p: p[::-1]),
        (
            {"kind": "crop", "left": 0.25, "top": 0.5, "right": 0.75, "bottom": 1.0},
            lambda p: p[30:60, 20:60],
        ),
    ],
)
def test_operations_do_what_they_say(assets, operation, made):
    expected = made(FLAG + RNG.integers(0, 20, FLAG.shape, dtype=np.uint8))
    pixels = FLAG + np.uint8(0)
    expected = made(pixels)
    high, wide = expected.shape[:2]
    document = on_nothing(mark(art(assets, pixels, operation), x=100, y=80))
    top, left = 80 - high // 2, 100 - wide // 2
    found = drawn(document, assets)
    np.testing.assert_array_equal(found[top : top + high, left : left + wide, :3], expected)
    off = on_nothing(mark(art(assets, pixels, operation | {"on": False}), x=100, y=80))
    np.testing.assert_array_equal(drawn(off, assets)[50:110, 60:140, :3], pixels)


def test_a_crop_leaves_the_rest_where_it_lies(assets):
    """And its frame, in which wear lies, too; turned, scaled, and in a group."""
    pixels = RNG.integers(0, 256, (60, 80, 3), dtype=np.uint8)
    place = {"x": 90, "y": 70, "scale": 1.5, "rotation_deg": 90}
    document = on_nothing(mark(art(assets, pixels, {"kind": "crop"}), **place))
    before, frame = drawn(document, assets), Layout(document).frame(next(document.marks()))
    item = next(document.marks()).id
    crop = {"left": 0.25, "top": 0.0, "right": 1.0, "bottom": 0.5}
    change = {"op": "set_operation", "path": ["stack", item, "art", "chain"], "operation": "op0"}
    cropped = edits.apply(document, [{**change, "settings": crop}])
    after = drawn(cropped, assets)
    inside = after[..., 3] == 255
    assert 0.3 < inside.sum() / (before[..., 3] == 255).sum() < 0.45
    inside = cv2.erode(inside.astype(np.uint8), np.ones((7, 7))) > 0  # edges are mirrored
    np.testing.assert_array_equal(after[inside], before[inside])
    moved = Layout(cropped).frame(next(cropped.marks()))
    assert (moved.x, moved.y, moved.unit_px) == pytest.approx((frame.x, frame.y, frame.unit_px))
    back = edits.apply(
        cropped, [{"op": "remove_operation", "path": change["path"], "operation": "op0"}]
    )
    np.testing.assert_array_equal(drawn(back, assets), before)


def test_operations_are_added_moved_and_removed(assets):
    document = on_nothing(mark(art(assets, FLAG)))
    path = ["stack", next(document.marks()).id, "art", "chain"]
    both = edits.apply(
        document,
        [
            {
                "op": "add_operation",
                "path": path,
                "kind": "knock-out",
                "settings": {"colours": ["#c83c1e"]},
            },
            {"op": "add_operation", "path": path, "kind": "flip"},
        ],
    )
    chain = next(both.marks()).art.chain
    assert [one.kind for one in chain] == ["knock-out", "flip"]
    moved = edits.apply(
        both, [{"op": "move_operation", "path": path, "operation": chain[1].id, "to": 0}]
    )
    assert [one.kind for one in next(moved.marks()).art.chain] == ["flip", "knock-out"]
    for wrong in (
        {"op": "add_operation", "path": path[:-1], "kind": "flip"},
        {"op": "add_operation", "path": path, "kind": "no such"},
        {"op": "set_operation", "path": path, "operation": chain[0].id, "settings": {"id": "x"}},
        {"op": "set_operation", "path": path, "operation": "gone", "settings": {}},
    ):
        with pytest.raises(KilnError):
            edits.apply(both, [wrong])


def test_a_draft_is_prepared_from_a_copy_and_is_nearly_the_exact_one(assets):
    y, x = np.mgrid[:1200, :1800]
    far = np.hypot(x - 900, y - 600)
    pixels = np.where((far < 480)[..., None], (190, 60, 40), (246, 244, 240)).astype(np.uint8)
    knock = {"kind": "knock-out", "colours": ["#f6f4f0"]}
    document = piece(mark(art(assets, pixels, knock), x=900, y=600), size=(1800, 1200))
    draft, exact = (
        drawn(document, assets, 0.25, truly=truly).astype(int) for truly in (False, True)
    )
    assert np.abs(draft - exact).mean() < 0.3
    assert np.abs(draft - exact).max() < 40
    levels = {key[0] for key in assets._prepared._values}
    assert levels == {0, 2}


def test_one_preparing_serves_all(assets):
    """However many tiles and pictures ask, a chain is worked once; another setting is another."""
    pixels = RNG.integers(0, 256, (300, 400, 3), dtype=np.uint8)
    document = piece(mark(art(assets, pixels, {"kind": "ink"})), size=(400, 300))
    for _ in range(2):
        drawn(document, assets)
    assert len(assets._prepared._values) == 1


# --- grounds ---


@pytest.mark.parametrize("fit", ["cover", "contain", "pixels", "repeat"])
def test_a_picture_is_a_ground_in_four_ways(assets, fit):
    ground = {key: value for key, value in art(assets, FLAG).items() if key != "chain"} | {
        "fit": fit
    }
    found = drawn(piece(ground=ground, size=(201, 90)), assets)
    alpha = found[..., 3] if found.shape[2] == 4 else np.full((90, 201), 255)
    scale = PictureFill(**ground).scale_on(201, 90)
    assert scale == {"cover": 201 / 80, "contain": 90 / 60}.get(fit, 1)
    if fit in ("cover", "repeat"):
        assert alpha.min() == 255
    if fit == "pixels":
        assert (alpha == 255).sum() == 80 * 60
        np.testing.assert_array_equal(found[15:75, 60:140, :3], FLAG)
    if fit == "contain":
        assert (alpha == 255).sum() == pytest.approx(120 * 90, rel=0.03)


# --- refused ---


def chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


def huge_png(side: int) -> bytes:
    head = chunk(b"IHDR", struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0))
    return (
        b"\x89PNG\r\n\x1a\n"
        + head
        + chunk(b"IDAT", zlib.compress(b"\0" * 10_000))
        + chunk(b"IEND", b"")
    )


def tiff(*entries, order="<") -> bytes:
    """A TIFF of one directory: (tag, type, count, value)."""
    body = b"".join(struct.pack(f"{order}HHII", *entry) for entry in entries)
    head = (b"II" if order == "<" else b"MM") + struct.pack(f"{order}HI", 42, 8)
    return head + struct.pack(f"{order}H", len(entries)) + body + struct.pack(f"{order}I", 8)


def endless_tiff() -> bytes:
    sides = [(256, 4, 1, 90_000), (257, 4, 1, 90_000)]
    return tiff(*sides, (258, 3, 1, 8), (262, 3, 1, 1), (273, 4, 1, 8), (278, 4, 1, 90_000))


NOISE = RNG.integers(0, 256, (300, 400, 3), dtype=np.uint8)
WHOLE = {
    "png": png(NOISE),
    "jpeg": jpeg(NOISE, quality=92),
    "webp": pillow("WEBP", Image.fromarray(NOISE), quality=90),
    "tiff": pillow("TIFF", Image.fromarray(NOISE), compression="tiff_lzw"),
    "gif": pillow("GIF", Image.fromarray(NOISE).quantize(64)),
    "avif": vips(NOISE).heifsave_buffer(compression="av1", Q=80),
}
HOSTILE = {
    **{f"half a {kind}": data[: len(data) // 2] for kind, data in WHOLE.items()},
    **{f"the first bytes of a {kind}": data[:40] for kind, data in WHOLE.items()},
    "a script called a picture": b"#!/bin/sh\nrm -rf /\n",
    "a page": b"<!DOCTYPE html><html><body>hello</body></html>",
    "nothing": b"",
    "a PDF": b"%PDF-1.7\n1 0 obj<<>>endobj\ntrailer<<>>",
    "a ZIP": b"PK\x03\x04" + b"\0" * 400,
    "a huge PNG": huge_png(60_000),
    "a large empty PNG": huge_png(9_000),
    "an endless TIFF": endless_tiff(),
    "a TIFF that points at itself": tiff((256, 4, 1, 40), (257, 4, 1, 40), (330, 4, 1, 8)),
    "a big-endian TIFF of nothing": tiff(order=">"),
    "a bad checksum": png(NOISE)[:60] + b"\xff" + png(NOISE)[61:],
    "a GIF of no picture": b"GIF89a" + struct.pack("<HHBBB", 400, 300, 0, 0, 0) + b";",
    "a huge GIF": b"GIF89a" + struct.pack("<HHBBB", 65535, 65535, 0, 0, 0) + WHOLE["gif"][13:],
    "a WebP of junk": b"RIFF" + struct.pack("<I", 400) + b"WEBPVP8 " + bytes(range(256)),
    "an AVIF of junk": b"\0\0\0\x20ftypavif" + bytes(range(256)),
    "a picture of 3 px": png(NOISE[:3, :3]),
}


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_pictures_are_refused_in_one_sentence(name):
    begun = time.monotonic()
    with pytest.raises(UnusableFile) as refused:
        brought_in(HOSTILE[name])
    message = refused.value.message
    assert message[0].isupper() and message.endswith(".") and len(message) < 200
    assert "vips" not in message.lower() and "/" not in message
    assert time.monotonic() - begun < 30  # hangs are faults; two seconds are for `make bench`


@pytest.mark.parametrize("kind", WHOLE)
def test_damaged_pictures_end_in_a_picture_or_a_refusal(kind):
    """Bytes changed at random, in every format."""
    rng = np.random.default_rng(len(kind))
    for _ in range(6):
        data = bytearray(WHOLE[kind])
        for place in rng.integers(0, len(data), 12):
            data[place] = rng.integers(0, 256)
        try:
            assert brought_in(bytes(data)).kind in ("picture", "vector")
        except UnusableFile as refused:
            assert refused.message


# --- flat colours ---


def test_the_flat_colours_of_art_are_its_own():
    image = np.zeros((200, 300, 4))
    image[20:180, 20:280] = (0.8, 0.1, 0.1, 1)
    image[60:140, 60:140] = (0.1, 0.2, 0.5, 1)
    image[100:120, 200:240] = (0.95, 0.8, 0.2, 0.9)
    found = dict(flat_colours(image))
    total = 160 * 260 - 800 + 0.9 * 800
    assert found == pytest.approx(
        {
            "#cc1a1a": (160 * 260 - 6400 - 800) / total,
            "#1a3380": 6400 / total,
            "#f2cc33": 720 / total,
        },
        abs=2e-3,
    )


def test_edges_and_noise_are_no_colours():
    large = np.zeros((1600, 1600, 3), np.uint8)
    cv2.circle(large, (800, 800), 600, (255, 255, 255), -1)
    soft = cv2.resize(large, (200, 200), interpolation=cv2.INTER_AREA) / 255
    noisy = np.clip(soft + np.random.default_rng(1).normal(0, 0.01, soft.shape), 0, 1)
    for pixels in (soft, noisy):
        found = flat_colours(np.dstack([pixels, np.ones((200, 200))]))
        assert len(found) == 2
        assert found[0][1] == pytest.approx(1 - np.pi * 75**2 / 200**2, abs=0.02) or found[0][
            1
        ] == pytest.approx(np.pi * 75**2 / 200**2, abs=0.02)


def test_few_colours_where_few_are_asked_for_and_none_of_nothing():
    rng = np.random.default_rng(2)
    photo = np.dstack([rng.random((64, 64, 3)), np.ones((64, 64))])
    assert len(flat_colours(photo, most=3)) == 3
    assert sum(share for _, share in flat_colours(photo)) == pytest.approx(1)
    assert flat_colours(np.zeros((9, 9, 4))) == []
    with pytest.raises(ValueError):
        flat_colours(np.zeros((9, 9, 3)))


def test_a_plain_background_is_seen():
    found = brought_in(png(np.pad(FLAG, ((20, 20), (20, 20), (0, 0)), constant_values=250)))
    assert found.facts["plain"] == "#fafafa"
    assert brought_in(png(NOISE)).facts["plain"] is None
    colours = dict(map(tuple, found.facts["colours"]))
    assert {"#fafafa", "#c83c1e", "#145ac8"} <= set(colours)


def test_documents_name_their_pictures(assets):
    from kilncore.model.files import ArtHash, PictureHash

    settings = art(assets, FLAG)
    document = load(piece(mark(settings), ground=settings | {"fit": "cover"}).model_dump())
    assert document.files(PictureHash) == {settings["hash"]} == document.files(ArtHash)
