"""SVGs from outside: hostile ones are refused in words and in time, real ones come in whole and
look as they did.
"""

import gzip
import resource

import numpy as np
import pytest

from kilncore import engine
from kilncore.artwork.intake import brought_in
from kilncore.artwork.vector import rasterised
from kilncore.errors import UnusableFile
from kilncore.svg.sanitising import sanitise
from kilncore.system.cache import ByteCache
from tests.documents import mark, piece

RECT = '<rect width="10" height="10"/>'


def svg(body, head='viewBox="0 0 400 400"'):
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" '
        f'xmlns:xlink="http://www.w3.org/1999/xlink" {head}>{body}</svg>'
    ).encode()


def drawn(data, side=40):
    safe = sanitise(data)
    scale = side / safe.width
    return rasterised(
        safe.data, (safe.width, safe.height), (scale, 0, 0, scale, side / 2, side / 2), side, side
    )


PATTERNS = "".join(
    f'<pattern id="p{n}" width="2" height="2" patternUnits="userSpaceOnUse">'
    + f'<rect class="r{n}" width="1" height="1"/>' * 9
    + "</pattern>"
    for n in range(9)
)
NESTED = (
    "<style>"
    + "".join(f".r{n}{{fill:url(#p{n - 1})}}" for n in range(1, 9))
    + f'</style>{PATTERNS}<rect fill="url(#p8)" width="400" height="400"/>'
)
FULL = 'width="400" height="400"'
ZIGZAG = "M0 0" + "".join(f"L{n * 7 % 400} {n * 11 % 400}" for n in range(3000))
BILLION = (
    "<!DOCTYPE svg [<!ENTITY a 'aaaaaaaaaa'>"
    + "".join(f"<!ENTITY {chr(98 + n)} '{f'&{chr(97 + n)};' * 10}'>" for n in range(9))
    + "]>"
)
HOSTILE = {
    "digits": svg(RECT, f'width="{"1" * 12_000}x" height="3"'),
    "patterns in patterns by a style sheet": svg(NESTED),
    "a large style sheet": svg(
        "<style>" + ".a{fill:red}" * 500_000 + f'</style><rect class="a" {FULL}/>'
    ),
    "heavy selectors": svg(
        "<style>"
        + "".join(
            f"g g g rect:not(.z{n}):nth-child({n % 7 + 1}n){{fill:#00{n % 90 + 10}00}}"
            for n in range(500)
        )
        + "</style><g><g><g>"
        + RECT * 4000
        + "</g></g></g>"
    ),
    "see-through groups": svg('<g opacity=".9">' * 95 + RECT + "</g>" * 95),
    "masks": svg(
        f'<mask id="m"><rect {FULL} fill="#fff"/></mask>' + f'<rect mask="url(#m)" {FULL}/>' * 3000
    ),
    "markers": svg(
        '<marker id="m" markerWidth="9" markerHeight="9">'
        + '<circle r="3"/>' * 50
        + f'</marker><path style="marker-mid:url(#m)" d="{ZIGZAG}"/>'
    ),
    "blends": svg(f'<rect style="mix-blend-mode:multiply" {FULL}/>' * 3000),
    "inherited patterns": svg(
        '<pattern id="p" width="1" height="1">'
        + RECT * 400
        + '</pattern><g fill="url(#p)">'
        + RECT * 2000
        + "</g>"
    ),
    "entities": BILLION.encode() + svg(f"<desc>&j;</desc>{RECT}"),
    "unpacked": gzip.compress(b" " * 10**8),
    "an endless view box": svg(RECT, 'viewBox="0 0 1e999 5"'),
    "open brackets": svg(f"<style>rect{{fill:{'(' * 90_000}</style>{RECT}"),
    "a very long curve": svg(
        '<path stroke="#000" d="M0 0'
        + "".join(f"L{n * 7919 % 400} {n * 104729 % 400}" for n in range(220_000))
        + '"/>'
    ),
}


@pytest.mark.parametrize("name", HOSTILE)
def test_hostile_files_are_refused_in_words_within_two_seconds_of_work(name):
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    with pytest.raises(UnusableFile) as refused:
        brought_in(HOSTILE[name])
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    assert after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime < 3
    assert refused.value.message.endswith((".", "picture.")) and not refused.value.detail


@pytest.mark.parametrize(
    "data",
    [
        svg(f'<rect width="{"9" * 5000}" height="3"/>' + RECT),
        svg(f'<rect fill="{"(" * 9000}" width="3" height="3"/>' + RECT),
        '﻿<?xml version="1.0" encoding="UTF-16"?><!DOCTYPE svg [<!ENTITY a "x">]>'.encode(
            "utf-16-le"
        )
        + svg('<rect id="&a;" width="9" height="9"/>').decode().encode("utf-16-le"),
        b"\x1f\x8b junk",
        b"<svg" + b"\xff" * 50,
    ],
)
def test_odd_files_end_in_a_drawing_or_a_refusal(data):
    try:
        assert brought_in(data).data
    except UnusableFile as refused:
        assert refused.message


def test_a_real_drawing_of_twenty_thousand_parts_comes_in():
    colours = "".join(
        f".c{n}{{fill:#{n * 40503 % 16**6:06x};stroke-width:{n % 3}}}" for n in range(40)
    )
    parts = "".join(
        f'<path class="c{n % 40}" d="M{n % 140 * 2.8:.2f} {n // 140 * 2.8:.2f}c.7.2 1.1.9 2 '
        '2l-1.5.4z"/>'
        for n in range(20_000)
    )
    data = svg(f"<style>{colours}</style>{parts}")
    assert len(data) > 1_000_000
    assert brought_in(data).width == 400  # within the child's two seconds


def test_rules_select_by_what_cleaning_drops():
    """Two squares that a rule blackens by an attribute of their own must not turn white."""
    pixels = drawn(
        svg(
            f'<style>[data-ink="key"]{{fill:#000}}</style><rect data-ink="key" fill="#fff" {FULL}/>'
        )
    )
    assert (pixels[20, 20] == [0, 0, 0, 255]).all()


@pytest.mark.parametrize(
    "body, colour",
    [
        (
            f'<style>rect{{fill:#0f0}} .a{{fill:#00f}}</style><rect class="a" '
            f'style="fill:#f00" {FULL}/>',
            [255, 0, 0],
        ),
        (
            f'<style>rect{{fill:#0f0 !important}} .a{{fill:#00f}}</style><rect class="a" '
            f'style="fill:#f00" {FULL}/>',
            [0, 255, 0],
        ),
        (
            f'<style>#x{{fill:#00f}} .a.a{{fill:#0f0}}</style><rect id="x" class="a" '
            f'fill="#f00" {FULL}/>',
            [0, 0, 255],
        ),
        (
            f'<style>g > rect{{fill:#00f}} rect{{fill:#0f0}}</style><g><rect fill="#f00" '
            f"{FULL}/></g>",
            [0, 0, 255],
        ),
        (f'<style>g{{fill:#00f}}</style><g style="fill:#0f0"><rect {FULL}/></g>', [0, 255, 0]),
        (
            f"<style>@media print{{rect{{fill:#0f0}}}} rect::before{{fill:#0f0}}</style><rect "
            f'fill="#00f" {FULL}/>',
            [0, 0, 255],
        ),
    ],
)
def test_style_rules_win_as_the_cascade_says(body, colour):
    """CSS Cascade Level 4: importance, then style attributes, then specificity, then order; SVG 2:
    attributes come first.
    """
    assert drawn(svg(body))[20, 20, :3].tolist() == colour


def test_blending_said_by_a_rule_stays():
    body = (
        f'<style>.m{{mix-blend-mode:multiply}}</style><rect fill="#ff0" {FULL}/><rect '
        f'class="m" fill="#0ff" {FULL}/>'
    )
    assert drawn(svg(body))[20, 20, :3].tolist() == [0, 255, 0]


def test_entities_of_its_own_and_packed_files_come_in():
    data = b'<!DOCTYPE svg [<!ENTITY ns "http://www.w3.org/2000/svg"><!ENTITY ink "#cc0000">]><svg xmlns="&ns;" viewBox="0 0 9 9"><rect fill="&ink;" width="9" height="9"/></svg>'  # noqa: E501
    assert (
        b"#cc0000" in brought_in(data).data and b"#cc0000" in brought_in(gzip.compress(data)).data
    )


def vector_mark(store, data, x, y, **place):
    safe = sanitise(data)
    return mark(
        {
            "kind": "vector",
            "hash": store.keep(safe.data),
            "width": safe.width,
            "height": safe.height,
        },
        x,
        y,
        **place,
    )


def test_a_drawing_that_is_only_moved_is_drawn_once(store, monkeypatch):
    drawings, one = [], svg('<circle cx="200" cy="200" r="190" fill="#a0f"/>')
    monkeypatch.setattr(
        "kilncore.artwork.vector.rasterised", lambda *a: drawings.append(a) or rasterised(*a)
    )
    cache = ByteCache()
    first = engine.render(
        piece(vector_mark(store, one, 100, 100, scale=0.25)), assets=store, cache=cache
    )
    moved = engine.render(
        piece(vector_mark(store, one, 137, 121, scale=0.25)), assets=store, cache=cache
    )
    assert len(drawings) == 1
    np.testing.assert_array_equal(first[40:160, 40:160], moved[61:181, 77:197])
    fresh = engine.render(
        piece(vector_mark(store, one, 137, 121, scale=0.25)), assets=store, cache=ByteCache()
    )
    np.testing.assert_array_equal(moved, fresh)


@pytest.mark.parametrize("scale", [0.25, 0.5, 1.0, 2.0])
def test_a_stroke_that_does_not_scale_is_as_wide_in_every_picture(store, scale):
    """8 px on the piece: the share of its area that is inked is the same at every scale."""
    line = svg(
        '<g stroke-width="8"><path vector-effect="non-scaling-stroke" stroke="#000" d="M0 '
        '200H400"/></g>'
    )
    document = piece(vector_mark(store, line, 200, 150, scale=0.7), ground={"kind": "none"})
    alpha = engine.render(document, scale=scale, assets=store, cache=ByteCache())[..., 3]
    assert alpha[:, alpha.shape[1] // 2].sum() / scale == pytest.approx(8, rel=0.03)


def test_threads_that_draw_never_wait_for_a_child(store, monkeypatch):
    """While a drawing takes long, another picture comes through."""
    import threading

    slow, go_on = svg('<circle cx="200" cy="200" r="190" fill="#a0f"/>'), threading.Event()
    monkeypatch.setattr(
        "kilncore.artwork.vector.rasterised", lambda *a: go_on.wait(30) and rasterised(*a)
    )
    waiting = [
        threading.Thread(
            target=engine.render,
            args=(piece(vector_mark(store, slow, 200, 150, scale=0.5 + n / 10)),),
            kwargs={"assets": store, "cache": ByteCache()},
        )
        for n in range(4)
    ]
    for thread in waiting:
        thread.start()
    try:
        assert engine.render(piece(mark()), assets=store, cache=ByteCache()).shape == (300, 400, 4)
        assert not go_on.is_set() and all(thread.is_alive() for thread in waiting)
    finally:
        go_on.set()
        for thread in waiting:
            thread.join()
