"""The form of a node's picture is its own: the same in every box, kept or drawn afresh, however
deep the graph is.
"""

import numpy as np
import pytest

from kilncore import engine
from kilncore.compiled.program import Program
from kilncore.engine.cache_policy import Recent
from kilncore.engine.plan import Plan
from kilncore.engine.reader import Reader
from kilncore.geometry.box import Box
from kilncore.model.base import Model
from kilncore.pixels.picture import Picture, tinted
from kilncore.pixels.pixel_format import PixelFormat, WrongFormat
from kilncore.steps import STEPS
from kilncore.steps.base import Cover, Paint, Remake, step
from kilncore.system.cache import ByteCache
from tests.documents import every_step, group, lettering, mark, piece, px
from tests.documents import step as asked
from tests.pictures import png


def drawn(document, store, region=None, scale=1.0, **how):
    return engine.render(document, region, scale, store, cache=ByteCache(), **{"seen": None, **how})


def same_everywhere(document, store, scale, tile=(200, 150)):
    """A crop, other tiles, and tiles kept from an earlier picture, all against the whole; returns
    the whole.
    """
    whole = drawn(document, store, scale=scale)
    assert np.isfinite(whole).all() and whole.min() >= 0 and whole.max() <= 1
    wide, tall = document.size_px
    region = (wide * 0.31, tall * 0.27, wide * 0.4, tall * 0.5)
    left, top = (int(np.floor(n * scale + 1e-9)) for n in region[:2])
    part = drawn(document, store, region, scale, tile=tile, threads=1)
    np.testing.assert_array_equal(
        part, whole[top : top + part.shape[0], left : left + part.shape[1]]
    )
    corner = drawn(document, store, (0, 0, wide * 0.1, tall * 0.1), scale)  # where no mark is
    np.testing.assert_array_equal(corner, whole[: corner.shape[0], : corner.shape[1]])
    np.testing.assert_array_equal(drawn(document, store, scale=scale, keeps=False), whole)
    cache, seen = ByteCache(), Recent()
    for _ in range(2):
        kept = engine.render(document, None, scale, store, cache=cache, seen=seen)
        np.testing.assert_array_equal(kept, whole)
    return whole


def test_worn_ground_two_marks_the_upper_following_draft(texture, store):
    """Kept tiles of what lies beneath had five planes where the lower mark does not reach, and four
    where it does.
    """
    ground = {"kind": "texture", "texture": texture, "placement": {"scale": 1.7}}
    follow = asked("follow", across=px(20), down=px(20))
    document = piece(
        mark(lettering("LOWER", 500), 1500, 1200),
        mark(lettering("UPPER", 700), 2200, 1500, [follow]),
        ground=ground,
        size=(4000, 3000),
    )
    worn = document.model_copy(
        update={
            "ground": document.ground.model_copy(
                update={
                    "treatment": piece(
                        treatment=[asked("wear", texture=texture, black=0.2, white=0.8)]
                    ).treatment
                }
            )
        }
    )
    same_everywhere(worn, store, 0.4, (640, 400))


def worn_ground(document, texture):
    worn = piece(treatment=[asked("wear", texture=texture, black=0.2, white=0.8)]).treatment
    return document.model_copy(
        update={"ground": document.ground.model_copy(update={"treatment": worn})}
    )


@pytest.mark.parametrize("scale", [0.37, 1.0])
def test_worn_ground_a_mark_a_coat_on_the_piece(texture, store, scale):
    coat = asked("coat", "multiply", texture=texture)
    same_everywhere(
        worn_ground(
            piece(mark(lettering("Gull", 160), 300, 240), size=(700, 500), treatment=[coat]),
            texture,
        ),
        store,
        scale,
    )


@pytest.mark.parametrize("scale", [0.37, 1.0])
def test_worn_members_of_a_worn_group_over_nothing(texture, store, scale):
    worn = asked("wear", texture=texture, black=0.2, white=0.8)
    members = [
        mark(
            lettering(words, 120),
            x,
            0,
            [worn, asked("coat", "overlay", texture=texture)],
            strength=0.7,
        )
        for words, x in (("Gull", -60), ("Rope", 70))
    ]
    crew = group(
        *members,
        x=px(350),
        y=px(240),
        treatment=[worn, asked("coat", "multiply", texture=texture, keep_to_art=False)],
    )
    crew |= {"placement": {"x": px(350), "y": px(240)}}
    document = piece(
        crew,
        mark(lettering("Tea", 90), 300, 200, [asked("follow", across=px(9))]),
        ground={"kind": "none"},
        size=(700, 500),
        treatment=[asked("coat", "screen", texture=texture)],
    )
    same_everywhere(document, store, scale)


def test_a_worn_picture_with_another_over_it_is_as_solid_as_both_leave_it():
    """Two masks of 0 and 1 at random, half each: where either shows the pixel is whole, so the mean
    of squares is the mean.
    """
    from kilncore.blending import compositing

    program = Program(Box(0, 0, 4, 1))
    half = program.constant(0.5)
    colour = (program.constant(0.25),) * 3
    below = Picture(program, colour, half, solidity=program.constant(1))
    above = Picture(program, colour, half, solidity=program.constant(1))
    both = compositing.paint(below, above)
    thin = compositing.paint(
        Picture(program, colour, half, solidity=half), Picture(program, colour, half, solidity=half)
    )
    out = program.planes((both.alpha, both.solidity, thin.solidity))
    program.run()
    np.testing.assert_allclose(out[:, 0, 0], [0.75, 1, 0.75], atol=1e-6)


def test_a_form_refuses_what_it_has_no_room_for():
    program = Program(Box(0, 0, 4, 1))
    alpha, colour = program.constant(0.5), (program.constant(0.25),) * 3
    with pytest.raises(WrongFormat):
        PixelFormat(alpha=False, premultiplied=False).fitted(Picture(program, colour, alpha))
    with pytest.raises(WrongFormat):
        PixelFormat().fitted(Picture(program, colour, alpha, solidity=alpha))
    with pytest.raises(WrongFormat):
        PixelFormat(premultiplied=False, tint=(1.0, 0.0, 0.0)).fitted(
            tinted(program, alpha, (0.0, 1.0, 0.0))
        )
    with pytest.raises(WrongFormat):
        PixelFormat(solidity=True).picture(program, (alpha,) * 4)
    assert PixelFormat(solidity=True).fitted(Picture(program, colour)).premultiplied


def test_a_tile_of_another_form_is_refused(store):
    document = piece(mark(lettering("Gull", 90)))
    node, cache = Plan(document).finished().node, ByteCache()
    reader = Reader(store, cache, kept={node.key: Box(0, 0, 400, 300)})
    part = Box(0, 0, 400, 300)
    cache.get((node.key, part), lambda: np.zeros((5, 300, 400), np.float32))
    with pytest.raises(WrongFormat):
        reader.read(node, part)


@pytest.mark.long
def test_as_many_steps_and_marks_as_there_may_be(store, texture):
    """Deep graphs are walked, not fallen into."""
    many = [asked("soften", radius=px(0.3 if n % 2 else 1)) for n in range(60)]
    marks = [
        mark(
            lettering("i", 20),
            10 + 2 * n,
            40,
            [asked("soften", radius=px(0.4))] if n % 5 == 0 else [],
        )
        for n in range(100)
    ]
    document = piece(*marks, size=(220, 60), treatment=many)
    document = document.model_copy(
        update={"ground": document.ground.model_copy(update={"treatment": document.treatment})}
    )
    assert np.isfinite(drawn(document, store, scale=0.5, tile=(160, 80))).all()
    points = [engine.plan.Point("ground", 60), engine.plan.Point("piece", 60)]
    assert (
        len(engine.together([(document, point) for point in points], None, 0.5, store, ByteCache()))
        == 2
    )


@pytest.mark.long
def test_many_softenings_of_one_word_are_bounded_in_memory(store):
    """The margins of fifty blurs in a row would add up to a picture many times the size of the one
    that is asked for.
    """
    import tracemalloc

    def peak(count):
        ids = [asked("soften", radius=px(12)) for _ in range(count)]
        document = piece(mark(lettering("Gull", 300), 600, 400, ids), size=(1200, 800))
        tracemalloc.start()
        engine.pixels(
            document, (500, 300, 200, 150), 1.0, store, cache=ByteCache(60 * 2**20), seen=None
        )
        most = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
        return most

    assert peak(40) < 400 * 2**20  # 50 of them took 6.7 GB


class _Nothing(Model):
    pass


@pytest.fixture
def broken():
    """Steps that give what is not a number, or far too much."""
    found = {}

    def register(name, gives, run, **facts):
        step(
            name,
            title=name,
            sentence="",
            gives=gives,
            settings=_Nothing,
            summary=lambda p: "",
            **facts,
        )(run)
        found[name] = gives

    bad = np.float32(np.nan)
    register(
        "broken-remake",
        "remake",
        lambda p, view: Remake(np.full((4, view.box.height, view.box.width), bad)),
    )
    register(
        "broken-loud",
        "remake",
        lambda p, view: Remake(np.full((4, view.box.height, view.box.width), np.float32(9))),
    )
    register(
        "broken-paint",
        "paint",
        lambda p, view: Paint(np.full((3, view.box.height, view.box.width), bad)),
    )
    register(
        "broken-clear",
        "paint",
        lambda p, view: Paint(np.full((4, view.box.height, view.box.width), bad), False),
        spills=lambda p: True,
    )
    register(
        "broken-cover",
        "cover",
        lambda p, view: Cover(np.full((view.box.height, view.box.width), bad)),
    )
    register(
        "broken-rows",
        "paint",
        lambda p, view: Paint(tuple(view.program.constant(float("nan")) for _ in range(3))),
    )
    yield found
    for name in found:
        STEPS.remove(name)


@pytest.mark.parametrize(
    "name",
    ["broken-remake", "broken-loud", "broken-paint", "broken-clear", "broken-cover", "broken-rows"],
)
@pytest.mark.parametrize("mode", ["normal", "multiply", "hue"])
def test_what_is_not_a_number_never_reaches_a_picture(broken, store, texture, name, mode):
    kind = asked(name, "normal" if name == "broken-cover" else mode, 0.8)
    for part in ({"treatment": [kind]}, {}):
        art = mark(treatment=[kind] if not part else [], mode="normal")
        document = piece(
            art,
            ground={"kind": "texture", "texture": texture} if part else {"kind": "none"},
            **part,
        )
        picture = drawn(document, store)
        assert np.isfinite(picture).all() and picture.min() >= 0 and picture.max() <= 1
        found = engine.pixels(document, assets=store, cache=ByteCache(), seen=None)
        np.testing.assert_allclose(found / 255, picture[..., : found.shape[2]], atol=0.502 / 255)


@pytest.mark.parametrize("clear", [True, False])
def test_a_coat_that_ends_enlarged_stays_within_bounds(store, rng, clear):
    """Cubic reading overshoots: the share of a pixel that the texture covers, too."""
    pixels = rng.integers(0, 256, (40, 30, 4), dtype=np.uint8)
    pixels[..., 3] = rng.integers(0, 2, (40, 30)) * 255
    ref = {"hash": store.keep(png(pixels[..., : 4 if clear else 3])), "edges": "none"}
    coat = asked("coat", texture=ref, keep_to_art=False, placement={"scale": 2.26})
    document = piece(ground={"kind": "none"}, size=(16, 6000), treatment=[coat])
    planes = Reader(store, ByteCache()).read(Plan(document).finished().node, Box(0, 2900, 16, 3100))
    assert planes.min() >= 0 and planes[3].max() <= 1 and (planes[:3] <= planes[3]).all()
    raw = engine.render(document, None, 1.0, store, cache=ByteCache(), seen=None)
    found = engine.pixels(document, None, 1.0, store, cache=ByteCache(), seen=None)
    there = raw[..., 3] > 1e-3
    np.testing.assert_allclose(found[there] / 255, raw[there], atol=0.51 / 255)


def offered(step) -> tuple[str, ...]:
    return STEPS[step["kind"]].offered_for


def test_all_steps_in_drafts_kept_or_fresh(store, texture):
    document = piece(
        mark(lettering("Gull", 160), 300, 240, every_step(texture)),
        ground={"kind": "texture", "texture": texture},
        size=(700, 500),
        treatment=[one for one in every_step(texture) if "piece" in offered(one)],
    )
    same_everywhere(worn_ground(document, texture), store, 0.43)


@pytest.mark.parametrize(
    "landing",
    [
        {"range_input": {"hidden_below": 0.001, "shown_from": 0.1}},
        {"limits": [{"kind": "colour", "colour": "#c03020", "tolerance": 0.2}]},
    ],
)
@pytest.mark.parametrize("kind", ["lettering", "grained"])
def test_tones_and_colours_are_nothing_where_nothing_is(store, texture, landing, kind):
    """Found by the fuzzer: within the box of a mark its tint, or what was laid on it, counted where
    no letter is, and not beyond: a coat that spills showed the box, and differed from tile to tile.
    """
    coat = {
        **asked("coat", texture=texture, keep_to_art=False),
        "landing": {"mode": "normal", "strength": 1.0, **landing},
    }
    first = [asked("grain", "subtract", 0.5)] if kind == "grained" else []
    document = piece(
        mark(lettering("Gull", 90), 300, 240, [*first, coat]),
        ground={"kind": "none"},
        size=(700, 500),
    )
    whole = same_everywhere(document, store, 1.0, (97, 211))
    bare = drawn(
        piece(mark(lettering("Gull", 90), 300, 240), ground={"kind": "none"}, size=(700, 500)),
        store,
    )
    assert not whole[bare[..., 3] == 0].any() and whole.any()


def test_a_step_that_does_nothing_leaves_what_is_worn_beneath_it(store, rng):
    """A follow without its texture, on a mark and on a group that a draft has averaged the wear
    of.
    """
    texture = {"hash": store.keep(png(rng.integers(0, 255, (64, 64, 3)).astype(np.uint8)))}
    worn, idle = asked("wear", texture=texture), asked("follow", map="texture")
    alone = piece(mark(treatment=[worn, idle]))
    plain = piece(mark(treatment=[worn]))
    inner = mark(lettering("Bell", 60), 0, 0, treatment=[worn])
    holder = {**mark(treatment=[idle]), "kind": "group", "members": [inner, mark(x=60, y=0)]}
    del holder["art"]
    for scale in (0.4, 1.0):
        found, bare = (engine.render(one, None, scale, store) for one in (alone, plain))
        np.testing.assert_allclose(found, bare, atol=0.02)
        assert np.isfinite(engine.render(piece(holder), None, scale, store)).all()
