"""Fired files, read back with Pillow, which did not write them."""

import io
from zipfile import ZipFile

import numpy as np
import pytest
from PIL import Image, ImageCms

from kilncore import engine
from kilncore.assets import AssetStore
from kilncore.errors import KilnError, Superseded
from kilncore.output.fire import fire
from kilncore.system.files import write_whole
from tests.documents import every_step, lettering, mark, piece, px, step


def test_a_fired_file_holds_the_rendered_pixels(tmp_path, texture, store):
    document = piece(mark(treatment=every_step(texture)), size=(700, 560))
    fired = fire(document, tmp_path / "out.png", store)
    image = Image.open(fired.path)
    assert image.size == (700, 560) == (fired.width, fired.height) and image.mode == "RGB"
    expected = engine.render(document, assets=store)[..., :3] * 255
    assert (
        np.abs(np.asarray(image) - expected).max() <= 0.5 + 1e-3
    )  # rounded; a float's own error may tip a half


@pytest.mark.parametrize("ppi", [72, 300, 600])
def test_the_ppi_is_written(tmp_path, ppi, store):
    """PNG, pHYs: whole px per metre, so that ppi come back within half a px per metre."""
    image = Image.open(fire(piece(mark(), ppi=ppi), tmp_path / "out.png", store).path)
    assert image.info["dpi"][0] == pytest.approx(ppi, abs=0.02)
    profile = ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
    assert "sRGB" in ImageCms.getProfileDescription(profile)


def test_without_its_ground_it_is_transparent(tmp_path, store):
    image = np.asarray(
        Image.open(fire(piece(mark()), tmp_path / "out.png", store, with_ground=False).path)
    )
    assert image.shape[2] == 4 and image[0, 0, 3] == 0 and image[..., 3].max() == 255
    inside = image[image[..., 3] == 255]
    assert (inside[:, :3] == (0xC0, 0x30, 0x20)).all()


def test_without_a_ground_blend_modes_act_as_normal(tmp_path, store):
    plain, multiplied = (
        np.asarray(
            Image.open(
                fire(
                    piece(mark(mode=mode)), tmp_path / f"{mode}.png", store, with_ground=False
                ).path
            )
        )
        for mode in ("normal", "multiply")
    )
    np.testing.assert_array_equal(plain, multiplied)


def test_progress_runs_to_its_end(tmp_path, store):
    shares = []
    fire(piece(mark(), size=(2400, 700)), tmp_path / "out.png", store, progress=shares.append)
    assert shares[-1] == 1 and len(shares) >= 6 and shares == sorted(shares)


def test_a_stopped_or_impossible_firing_leaves_no_file(tmp_path, store):
    with pytest.raises(Superseded):
        fire(piece(mark()), tmp_path / "out.png", store, cancelled=lambda: True)
    with pytest.raises(KilnError, match="format must be"):
        fire(piece(mark()), tmp_path / "out.gif", store, file_format="gif")
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


@pytest.mark.parametrize("channels", [1, 3, 4])
def test_a_picture_for_the_screen_loses_nothing(rng, channels):
    """Read with Pillow, which did not write it. Nothing but pixels is in it."""
    from kilncore.output.preview import encode

    pixels = rng.integers(0, 256, (300, 77, channels), dtype=np.uint8)
    data, media_type = encode(pixels, lossless=True)
    image = Image.open(io.BytesIO(data))
    np.testing.assert_array_equal(np.asarray(image).reshape(pixels.shape), pixels)
    assert media_type == "image/png" and not {"icc_profile", "exif"} & set(image.info)


def test_a_stop_while_the_file_is_packed_is_heard(tmp_path, store):
    asked = []

    def cancelled():
        return bool(asked) and asked[-1] > 0.6

    with pytest.raises(Superseded):
        fire(
            piece(mark(), size=(2400, 2400)),
            tmp_path / "out.png",
            store,
            progress=asked.append,
            cancelled=cancelled,
        )
    assert not list(tmp_path.iterdir())


def test_a_full_disk_while_the_file_is_packed_is_said(tmp_path, store, monkeypatch):
    import pyvips

    from kilncore.output.formats import FORMATS

    def full(*given):
        raise pyvips.Error("no space left on /somebody/else")

    entry = FORMATS["png"]
    with FORMATS.with_more(
        lambda: FORMATS._entries.update(png=type(entry)(**{**vars(entry), "write": full}))
    ):
        with pytest.raises(KilnError, match="disk full") as error:
            fire(piece(mark()), tmp_path / "out.png", store)
    assert "somebody" not in str(error.value) + error.value.detail and not list(tmp_path.iterdir())


def test_a_new_format_is_one_module(tmp_path, store):
    """Proof by doing it: a format registered here packs a piece, with a setting of its own."""
    from kilncore.model.base import Model
    from kilncore.output.formats.base import FORMATS, output_format

    class Settings(Model):
        quality: int = 90

    def register():
        @output_format(
            "plain-jpeg", title="Plain", suffix="jpg", media_type="image/jpeg", settings=Settings
        )
        def write(image, target, settings):
            image.jpegsave(str(target), Q=settings.quality)

    with FORMATS.with_more(register):
        sizes = [
            fire(
                piece(mark()),
                tmp_path / "out.jpg",
                store,
                file_format="plain-jpeg",
                settings={"quality": quality},
            ).nbytes
            for quality in (20, 95)
        ]
        assert Image.open(tmp_path / "out.jpg").format == "JPEG" and sizes[0] < sizes[1]
    assert "plain-jpeg" not in FORMATS


def test_more_to_draw_into_a_file_is_one_module(tmp_path, store):
    from kilncore.engine.plan import Plan
    from kilncore.model.base import Model
    from kilncore.output.contents.base import CONTENTS, Picture, content

    class Settings(Model):
        pass

    def register():
        @content("first mark", title="The first mark", settings=Settings)
        def first(piece, settings):
            plan = Plan(piece)
            return [Picture("first", plan.art(piece.stack[0]), plan.page)]

    with CONTENTS.with_more(register):
        fire(piece(mark()), tmp_path / "mark.png", store, content="first mark")
    image = np.asarray(Image.open(tmp_path / "mark.png"))
    assert image.shape == (300, 400, 4) and image[0, 0, 3] == 0 and image[..., 3].max() == 255


def test_a_firing_holds_no_more_than_a_few_bands(tmp_path):
    """Bounded memory: bands are written as they are completed, and let go."""
    from kilncore.output import fire as firing

    held = []

    class Spy(firing.RawBands):
        def done(self, box):
            super().done(box)
            held.append(len(self.open))

    original, firing.RawBands = firing.RawBands, Spy
    try:
        fire(piece(mark(), size=(700, 4000)), tmp_path / "tall.png", None)
    finally:
        firing.RawBands = original
    assert len(held) == 16 and max(held) <= 3


@pytest.mark.parametrize("name", ["jpeg", "webp", "tiff", "png"])
@pytest.mark.parametrize("with_ground", [True, False])
def test_every_format_holds_the_pixels_its_profile_and_its_ppi(tmp_path, store, name, with_ground):
    """Read with Pillow. JPEG within its quantisation, on white; WebP holds no ppi (RFC 9649)."""
    document = piece(mark(x=100, y=80), size=(240, 180), ppi=150)
    target = tmp_path / f"out.{name}"
    asked = {"quality": 100} if name == "webp" else {}
    fire(document, target, store, with_ground=with_ground, file_format=name, settings=asked)
    image = Image.open(target)
    assert image.format == name.upper()
    if name != "webp":
        assert [float(one) for one in image.info["dpi"]] == pytest.approx([150, 150], abs=0.02)
    profile = ImageCms.ImageCmsProfile(io.BytesIO(image.info["icc_profile"]))
    assert "sRGB" in ImageCms.getProfileDescription(profile)
    expected = engine.render(document, assets=store)[..., :3]
    if not with_ground:
        shown = np.asarray(
            Image.open(fire(document, tmp_path / "a.png", store, with_ground=False).path)
        )
        alpha = shown[..., 3:] / 255
        assert (image.mode == "RGB") == (name == "jpeg")
        expected = shown[..., :3] / 255 * alpha + 1 - alpha
    found = np.asarray(image.convert("RGBA"), np.float32) / 255
    flat = found[..., :3] * found[..., 3:] + 1 - found[..., 3:]
    away = np.abs(flat - expected)
    assert away.max() < (0.15 if name == "jpeg" else 0.006) and away.mean() < 0.005


def test_sixteen_bits_are_the_picture_finer_than_eight_could_be(tmp_path, store):
    """Read with libvips, as Pillow knows no colours of 16 bits. PNG (W3C): the profile and pHYs are
    in it.
    """
    import pyvips

    fade = {"shape": "straight", "x0": px(0), "y0": px(0), "x1": px(240), "y1": px(0)}
    words = mark(lettering("OOO", 120), x=120, y=90)
    words["landing"]["fade"] = fade
    document = piece(words, size=(240, 180), ppi=150)
    for with_ground in (True, False):
        target = tmp_path / f"{with_ground}.png"
        fire(document, target, store, with_ground=with_ground, file_format="png16")
        image = pyvips.Image.new_from_file(str(target))
        assert image.format == "ushort" and image.bands == 3 + (not with_ground)
        assert image.xres * 25.4 == pytest.approx(150, abs=0.02)
        assert image.get_typeof("icc-profile-data")
        pixels = np.asarray(image.numpy(), float) / 65535
        truth = engine.render(document, assets=store, with_ground=with_ground)
        alpha = truth[..., 3:]
        np.testing.assert_allclose(pixels[..., :3] * alpha, truth[..., :3] * alpha, atol=2e-5)
        assert len(np.unique(np.rint(pixels * 65535) % 257)) > 100  # no eight bits, stretched


def test_each_mark_alone_in_a_zip_named_by_the_mark(tmp_path, store, texture):
    """As large as the mark is, on transparency, treated as in the piece, with nothing beneath; no
    two files of one name; what is left out is not among them.
    """
    worn = [step("wear", texture=texture, black=0.4, white=0.5)]
    marks = [
        mark(lettering("TEA", 60), 100, 80, worn),
        mark(lettering("TEA", 60), 280, 80),
        {**mark(lettering("GULL", 40), 200, 200), "name": "../Gull & tern"},
        {**mark(lettering("X", 40), 60, 250), "left_out": True},
        mark(lettering("FAR", 40), 900, 900),
    ]
    document = piece(*marks, size=(400, 300), ppi=144)
    shares = []
    fired = fire(document, tmp_path / "set.zip", store, content="marks", progress=shares.append)
    with ZipFile(fired.path) as together:
        assert together.namelist() == ["tea.png", "tea-2.png", "gull-tern.png"]
        found = {name: Image.open(io.BytesIO(together.read(name))) for name in together.namelist()}
    assert shares == sorted(shares) and shares[-1] == 1.0
    for image in found.values():
        assert image.mode == "RGBA" and image.info["dpi"] == pytest.approx((144, 144), abs=0.02)
    whole = engine.render(document, assets=store, with_ground=False)[..., 3]
    worn, plain = (np.asarray(found[name])[..., 3] / 255 for name in ("tea.png", "tea-2.png"))
    assert worn.sum() == pytest.approx(whole[:140, :190].sum(), rel=0.002)
    assert worn.sum() < 0.95 * plain.sum() and plain.shape[0] < 80 and plain.shape[1] < 150
    assert {one.name for one in tmp_path.iterdir()} == {"assets", "set.zip"}
    jpegs = fire(document, tmp_path / "j.zip", store, content="marks", file_format="jpeg")
    with ZipFile(jpegs.path) as together:
        assert together.namelist()[0] == "tea.jpg"
    with pytest.raises(KilnError, match="no mark"):
        fire(piece(), tmp_path / "none.zip", store, content="marks")


def test_a_side_too_long_for_a_format_is_refused_in_words(tmp_path, store, monkeypatch):
    from kilncore.output.formats import jpeg, webp

    for module, name in ((jpeg, "jpeg"), (webp, "webp")):
        monkeypatch.setattr(module, "MOST_SIDE", 100)
        with pytest.raises(KilnError, match="100 px each way at most"):
            fire(piece(mark()), tmp_path / f"out.{name}", store, file_format=name)
    assert not list(tmp_path.iterdir())
