"""What is kept in or out, against CSS masks as Chromium draws them.

Source: W3C CSS Masking Module Level 1: alpha masks (`mask-mode: alpha`) and `mask-composite`
(`intersect`, `exclude`, `add`). Chromium's masks are 8 bits deep.
"""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from kilncore.document import load
from tests.checks.chromium import data_url
from tests.documents import mark, piece, px, step
from tests.pictures import png

WIDE, TALL = 120, 90
GROUND = "#204060"


@pytest.fixture
def cut_outs(rng):
    """Two soft cut-outs as (H, W, 4) uint8."""
    found = []
    for _ in range(2):
        soft = ndimage.gaussian_filter(rng.random((TALL, WIDE)), 6, mode="wrap")
        soft = np.clip((soft - np.quantile(soft, 0.4)) / np.ptp(soft) * 3, 0, 1)
        alpha = np.rint(soft * 255).astype(np.uint8)
        found.append(np.dstack([np.full((TALL, WIDE, 3), 40, np.uint8), alpha]))
    return found


def landed(store, limits, pictures=(), **landing):
    """White laid over a ground, held by limits; the marks themselves left out of what is seen."""
    white = {"hash": store.keep(png(np.full((16, 16), 255, np.uint8)))}
    coat = step("coat", texture=white, keep_to_art=False)
    coat["landing"] |= {"limits": limits, **landing}
    items = []
    for n, pixels in enumerate(pictures):
        art = {"kind": "picture", "hash": store.keep(png(pixels)), "width": WIDE, "height": TALL}
        items.append(mark(art, WIDE / 2, TALL / 2) | {"id": f"m{n}", "left_out": True})
    ground = {"kind": "colour", "colour": GROUND}
    tree = piece(*items, ground=ground, size=(WIDE, TALL)).model_dump(mode="json")
    return engine.render(load({**tree, "treatment": [coat]}), assets=store)[..., :3]


def masked(drawn, mask: str):
    html = (
        f'<div style="position:absolute;inset:0;background:{GROUND}"></div>'
        f'<div style="position:absolute;inset:0;background:#fff;mask-mode:alpha;{mask}"></div>'
    )
    return drawn(html, WIDE, TALL)[..., :3]


def by(n, **more):
    return {"kind": "mark", "mark": f"m{n}", **more}


def test_kept_in_a_mark_is_an_alpha_mask_and_kept_out_the_rest(drawn, store, cut_outs):
    one = f"url({data_url(cut_outs[0])})"
    inside = landed(store, [by(0)], cut_outs)
    assert np.ptp(inside) > 0.5
    assert np.abs(inside - masked(drawn, f"mask-image:{one}")).max() < 2.5 / 255
    outside = landed(store, [by(0, outside=True)], cut_outs)
    rest = f"mask-image:linear-gradient(#000,#000),{one};mask-composite:exclude"
    assert np.abs(outside - masked(drawn, rest)).max() < 2.5 / 255


@pytest.mark.parametrize(("together", "composite"), [("all", "intersect"), ("any", "add")])
def test_all_of_them_intersect_and_any_of_them_add(drawn, store, cut_outs, together, composite):
    urls = ",".join(f"url({data_url(one)})" for one in cut_outs)
    found = landed(store, [by(0), by(1)], cut_outs, together=together)
    wanted = masked(drawn, f"mask-image:{urls};mask-composite:{composite}")
    assert np.abs(found - wanted).max() < 2.5 / 255


def test_an_ellipse_turned_and_a_freehand_outline(drawn, store):
    """As SVG's own shapes, by the share of pixels they cover: edges are antialiased otherwise."""
    place = {"x": px(60), "y": px(45), "width": px(80), "height": px(40), "rotation_deg": 30}
    outline = [[[0, 0], [1, 0.2], [0.8, 1], [0.4, 0.5], [0.1, 0.9]]]
    turned = 'transform="translate(60 45) rotate(30)"'
    points = " ".join(f"{(x - 0.5) * 80},{(y - 0.5) * 40}" for x, y in outline[0])
    shapes = {
        "ellipse": f'<ellipse rx="40" ry="20" {turned} fill="#fff"/>',
        "outline": f'<polygon points="{points}" {turned} fill="#fff"/>',
    }
    for shape, svg in shapes.items():
        limit = {"kind": "region", "shape": shape, "outline": outline, **place}
        found = landed(store, [limit])
        html = f'<svg width="{WIDE}" height="{TALL}"><rect width="{WIDE}" height="{TALL}" '
        html += f'fill="{GROUND}"/>{svg}</svg>'
        wanted = drawn(html, WIDE, TALL)[..., :3]
        assert np.abs(found - wanted).mean() < 0.6 / 255, shape
        assert np.abs(found - wanted).max() < 0.3, shape


@pytest.mark.parametrize("ends", [(1.0, 0.0), (0.2, 0.9)])
def test_a_straight_fade_is_a_gradient_mask(drawn, store, ends):
    fade = {"x0": px(20), "y0": px(0), "x1": px(100), "y1": px(0)}
    fade |= {"start": ends[0], "end": ends[1]}
    stops = f"rgba(0,0,0,{ends[0]}) 20px,rgba(0,0,0,{ends[1]}) 100px"
    wanted = masked(drawn, f"mask-image:linear-gradient(90deg,{stops})")
    assert np.abs(landed(store, [], fade=fade) - wanted).max() < 2.5 / 255
