"""What every maker promises, and what single ones do."""

import numpy as np
import pytest

from kilncore.errors import KilnError
from kilncore.measure.histogram import dark_share, histogram
from kilncore.textures import makers
from kilncore.textures.makers.base import GROUPS, MAPS, MOST_PIXELS
from kilncore.textures.makers.foil import INDEX, _table

# no shape of a motif grid
ONLY = {"first": "none", "second": "none", "third": "none"}
# whose waves are longer than these trials are wide, or that are so many to a tile
WIDE = {"mist", "foil", "motifs"}
# with patches of a tenth of these trials
LARGE = {"smudge", "enamel", "stain", "rust", "contours"}
# what a setting needs to be seen
NEEDS = {"mark_px": {"watermark": "star"}, "flute_px": {"flutes": 1.0}}
# laid in rows, or drawn out in one direction
REGULAR = {
    "plywood",
    "chipped",
    "brushed",
    "planks",
    "weave",
    "fadedgrid",
    "brick",
    "stone",
    "corrugated",
    "creases",
}


def bounds(model, end):
    """All settings at one of their ends together."""
    given = {}
    for name, field in model.model_fields.items():
        told = {type(one).__name__: one for one in field.metadata}
        if "Ge" in told:
            given[name] = told["Ge"].ge if end == 0 else told["Le"].le
    return model(**given)


def seam(planes):
    """How much changes where the edges meet, in shares of the most between any other rows."""
    values = np.moveaxis(planes / np.float32(255), 0, 2)
    found = []
    for axis in (0, 1):
        changes = np.abs(values - np.roll(values, 1, axis)).mean((1 - axis, 2))
        found.append(changes[0] / max(changes[1:].max(), 1e-9))
    return max(found)


@pytest.mark.filterwarnings("error::RuntimeWarning")  # nothing that is no number, nor too large
@pytest.mark.parametrize("name", makers.MAKERS)
class TestEveryMaker:
    def test_it_wraps_and_is_the_same_for_one_seed(self, name):
        made = [makers.make(name, 260, 200, seed) for seed in (4, 4, 5)]
        assert np.array_equal(made[0], made[1]) and not np.array_equal(made[0], made[2])
        assert seam(made[0]) <= 1.05

    @pytest.mark.parametrize("end", [0, 1])
    def test_all_settings_at_one_end_together(self, name, end):
        made = makers.maps(name, 128, 96, 1, bounds(makers.MAKERS[name].settings, end))
        assert made.colour.shape[1:] == (96, 128) and made.colour.dtype == np.uint8
        assert seam(made.colour) <= 1.1

    def test_its_maps_fit_each_other(self, name):
        used = makers.MAKERS[name]
        made = makers.maps(name, 192, 160, 2)
        assert {one for one in MAPS if getattr(made, one) is not None} == set(used.gives)
        for one in used.gives[1:]:
            assert made.named(one).shape == (1, 160, 192) and made.named(one).std() > 2
        assert made.colour.shape[0] in (1, 3) and used.group in GROUPS
        with pytest.raises(KilnError, match="no such map"):
            made.named("glow")

    def test_its_starting_points_differ(self, name):
        used = makers.MAKERS[name]
        assert len(used.starts) >= 3 and next(iter(used.starts.values())) == {}
        seen = [
            makers.make(name, 128, 128, 3, used.settings.model_validate(start))
            for start in used.starts.values()
        ]
        for n, one in enumerate(seen):
            assert all((one != other).mean() > 0.01 for other in seen[:n])

    def test_settings_change_it(self, name):
        used = makers.MAKERS[name]
        size = (768, 512) if name in ("planks", "dust", "scratches", "smudge") else (320, 256)
        plain = makers.make(name, *size, 1)
        for setting, field in used.settings.model_fields.items():
            told = {type(one).__name__: one for one in field.metadata}
            if "Ge" not in told or setting == "own_opacity":  # without a drawing of one's own
                continue
            other = told["Le"].le if field.default == told["Ge"].ge else told["Ge"].ge
            needs = NEEDS.get(setting, {})
            before = makers.make(name, *size, 1, **needs) if needs else plain
            changed = makers.make(name, *size, 1, **needs, **{setting: other})
            assert (changed != before).any(), setting

    def test_coarser_it_is_the_same_material(self, name):
        """300 ppi, averaged two to one, is what 150 ppi shows."""
        fine = makers.make(name, 256, 192, 3).astype(float).mean(0)
        coarse = makers.make(name, 128, 96, 3, ppi=150).astype(float).mean(0)
        fine = fine.reshape(96, 2, 128, 2).mean((1, 3))
        assert np.corrcoef(fine.ravel(), coarse.ravel())[0, 1] > 0.95

    def test_more_pixels_show_more_of_it(self, name):
        """The grain of the larger picture is as fine: its neighbours differ as much."""
        small, large = (
            np.abs(np.diff(makers.make(name, side, side, 4).astype(float))).mean()
            for side in (256, 512)
        )
        assert name in WIDE or 0.5 < large / small < 2

    def test_it_does_not_repeat_within_itself(self, name):
        """No correlation away from the origin above 0.25, unless the material is regular."""
        if name in REGULAR | WIDE:
            pytest.skip("laid in rows")
        side = 1024 if name in LARGE else 512
        made = makers.make(name, side, side, 3).astype(float).mean(0)
        power = np.abs(np.fft.rfft2(made - made.mean())) ** 2
        near = np.fft.irfft2(power)
        y, x = np.indices(near.shape)
        far = np.hypot(np.minimum(y, side - y), np.minimum(x, side - x)) > side / 5
        assert np.abs(near[far]).max() / near[0, 0] < 0.25


def test_a_maker_refuses_impossible_sizes():
    with pytest.raises(KilnError, match="64 to 8192"):
        makers.make("paper", 10, 10, 1)
    with pytest.raises(KilnError, match="64 to 8192"):
        makers.make("paper", 0, 40_000, 1)
    with pytest.raises(KilnError, match="16 million px at most below 300 ppi"):
        makers.make("paper", 4100, 4100, 1, ppi=150)
    assert 4100 * 4100 < MOST_PIXELS == 8192 * 8192
    with pytest.raises(KilnError, match="72 to 1200 ppi"):
        makers.make("paper", 100, 100, 1, ppi=20)
    with pytest.raises(KilnError, match="A maker must be"):
        makers.make("velvet", 100, 100, 1)
    with pytest.raises(KilnError, match="cannot be set so"):
        makers.make("paper", 100, 100, 1, warmth=7)


@pytest.mark.parametrize("wrong", ["velvet", "hull cream", "xhullx", "", "hull\n", 3])
def test_a_choice_is_one_of_its_own(wrong):
    with pytest.raises(KilnError, match="cannot be set so"):
        makers.make("flaking", 96, 96, 1, paint=wrong)


def test_settings_are_given_by_name_too():
    kind = makers.MAKERS["paper"].settings
    one = makers.make("paper", 96, 96, 1, kind(warmth=1.0))
    assert np.array_equal(one, makers.make("paper", 96, 96, 1, warmth=1.0))


def test_grunge_is_nearly_black_and_white():
    """What a mask to wear with must be (common practice): most tones lie at the ends."""
    counts = histogram(makers.make("grunge", 512, 512, 2))
    ends = (sum(counts[:50]) + sum(counts[205:])) / sum(counts)
    assert ends > 0.85 and 0.03 < dark_share(counts) < 0.5


def test_grain_is_neutral():
    """Grain for overlays must not lighten or darken what it lies on (common practice)."""
    for name in ("grain", "clumped"):
        assert makers.make(name, 256, 256, 2).mean() == pytest.approx(128, abs=1.5)


def test_more_that_is_gone_leaves_less_paint():
    kind = makers.MAKERS["flaking"].settings
    shares = []
    for gone in (0.0, 0.3, 0.7):
        red, _, blue = makers.make("flaking", 300, 300, 2, kind(gone=gone, stain=0)).astype(int)
        shares.append((red > blue + 12).mean())
    assert shares[0] < 0.02 and shares[1] == pytest.approx(0.3, abs=0.1)
    assert shares[2] == pytest.approx(0.7, abs=0.12)


@pytest.mark.parametrize("share", [0.1, 0.4, 0.8])
def test_blotches_are_as_dark_as_asked_for(share):
    made = makers.make("blotches", 512, 512, 2, share=share)
    assert (made < 128).mean() == pytest.approx(share, abs=0.03)


def test_a_cloth_goes_over_and_under_by_its_threads():
    """The strongest wavelengths of a plain weave are those of a thread, and of two."""
    made = makers.make("weave", 512, 512, 1, thread_px=16, uneven=0).mean(0)
    along = (np.abs(np.fft.rfft2(made - made.mean())) ** 2).sum(0)
    along[:12] = 0
    found = 512 / np.argmax(along)
    assert found == pytest.approx(16, rel=0.05) or found == pytest.approx(32, rel=0.05)


@pytest.mark.parametrize("name, pitch", [("dotgrid", 512 / 17), ("lines", 512 / 31), ("brick", 64)])
def test_what_is_laid_in_rows_has_a_whole_number_of_them(name, pitch):
    """The arithmetic of a grid (common practice): rows that fit the tile, so that it repeats."""
    still = {
        "dotgrid": {"pitch_px": 31, "pushed": 0, "swells": 0},
        "lines": {"pitch_px": 16.3, "bent": 0, "swells": 0},
        "brick": {"course_px": 63, "soot": 0, "differ": 0},
    }[name]
    made = makers.make(name, 512, 512, 1, **still).astype(float).mean(0).mean(1)
    power = np.abs(np.fft.rfft(made - made.mean()))
    assert 512 / np.argmax(power) == pytest.approx(pitch, abs=0.1)


def test_the_same_bricks_lie_in_all_maps():
    made = makers.maps("brick", 400, 300, 3)
    joint = made.worn[0] < 60
    assert 0.05 < joint.mean() < 0.4
    assert made.height[0][joint].mean() + 60 < made.height[0][~joint].mean()


class TestThinFilm:
    def test_no_film_is_black_and_a_quarter_wave_is_brightest(self):
        """Two beams that differ by half a wave cancel (Newton's black spot); at a thickness of a
        quarter of the wavelength in the film they add up. Born and Wolf, 7.6, from memory.
        """
        table = _table()
        assert table[0].max() < 0.02
        brightest = np.argmax(table[:200, 1])  # green, about 545 nm
        assert brightest == pytest.approx(545 / 4 / INDEX, rel=0.12)

    def test_first_order_goes_from_straw_through_purple_to_blue(self):
        """Newton's colours of a film, in order (from memory)."""
        red, green, blue = (_table()[:, c] for c in range(3))
        straw, purple, bluish = 150, 192, 230
        assert red[straw] > blue[straw] + 0.2 and green[straw] > blue[straw]
        assert green[purple] < min(red[purple], blue[purple])
        assert blue[bluish] > red[bluish] + 0.2


class TestMotifs:
    SQUARE = (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><path d="M0 0h9v9H0z"/></svg>'
    )

    def test_sixty_by_sixty_cells_have_half_the_gap_outside(self):
        """The arithmetic of a tile (common practice): laid beside itself, gaps are all alike."""
        squares = ONLY | {"first": "square", "gap": 0.5, "columns": 60, "rows": 60}
        made = makers.make("motifs", 720, 720, 1, **squares)
        dark = made[0] < 128
        cells = dark.reshape(60, 12, 60, 12)
        assert cells.any((1, 3)).all()
        assert np.array_equal(cells, np.broadcast_to(cells[:1, :, :1], cells.shape))
        inside = np.flatnonzero(dark[6])
        assert inside[0] + 1 == pytest.approx(720 - inside[-1], abs=1) and inside[0] == 3

    def test_ones_own_drawing_is_laid(self):
        name = "a" * 64
        asked = {
            "first": "none",
            "second": "none",
            "third": "none",
            "own": name,
            "gap": 0,
            "columns": 4,
            "rows": 4,
        }
        given = {"drawings": {name: self.SQUARE}}
        made = makers.make("motifs", 128, 128, 1, **asked, **given)
        assert (made < 40).all()  # side by side, without a gap, all of it is covered
        half = makers.make(
            "motifs", 128, 128, 1, **(asked | {"gap": 0.5}), drawings={name: self.SQUARE}
        )
        assert (half < 128).mean() == pytest.approx(0.25, abs=0.03)

    def test_without_its_drawing_it_is_refused(self):
        with pytest.raises(KilnError, match="not there"):
            makers.make("motifs", 128, 128, 1, own="b" * 64)
        with pytest.raises(KilnError, match="cannot be set so"):
            makers.make("motifs", 128, 128, 1, own="../../etc/passwd")

    def test_nothing_chosen_is_a_white_tile(self):
        assert (makers.make("motifs", 96, 96, 1, **ONLY) > 240).all()


class TestWatermarks:
    def test_its_outline_is_paler_and_stays_within_it(self):
        """A wire leaves the sheet thin (common practice): a square's lies along its sides."""
        asked = {"wires": 0.0, "handled": 0.0, "fibres": 0.0, "mark_px": 300.0}
        plain, marked = (
            makers.make("laid", 512, 512, 1, **asked, watermark=one).astype(float).mean(0)
            for one in ("none", "square")
        )
        paler = marked - plain
        half = round(0.9 * 150)
        rim = paler[256 - half - 4 : 256 - half + 4, 200:312].max(0)
        assert rim.mean() > 6 > 3 > abs(paler[:60, :60]).mean()

    def test_ones_own_drawing_may_be_one(self):
        name, asked = "c" * 64, {"wires": 0.0, "mark_px": 200.0}
        given = {"own": name, "drawings": {name: TestMotifs.SQUARE}}
        plain, own = (makers.make("laid", 256, 256, 1, **asked, **one) for one in ({}, given))
        assert (own != plain).any()


def test_chips_are_at_the_edges_of_plates():
    worn = makers.maps("chipped", 512, 512, 3, reach=0.3, chip_px=30.0).worn[0] < 128
    middle, all_of_it = worn[150:362, 150:362].mean(), worn[8:-8, 8:-8].mean()
    assert all_of_it > 0.01 and middle < 0.3 * all_of_it
    whole = makers.maps("chipped", 512, 512, 3, chips=0.0).worn[0] < 128
    assert not whole[8:-8, 8:-8].any()
