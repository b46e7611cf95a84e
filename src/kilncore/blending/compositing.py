"""How a result meets what it lands on: paint, cover, remake, written as registers of a program.

`weight` is 0..1, a number or a register. Nothing is None, and comes to the same bits as a picture
that is transparent. What lands nowhere on a pixel leaves it as it was, to the bit. Sources: Porter
and Duff 1984; W3C Compositing and Blending Level 1 (source-over, source-atop with blending); CSS
Compositing Level 2 (plus-lighter); the rest is fixed in docs/engine.md.
"""

from collections.abc import Iterable
from dataclasses import replace
from typing import Any

from kilncore.blending.modes import mode_named
from kilncore.blending.non_separable import NON_SEPARABLE
from kilncore.compiled.program import Register
from kilncore.pixels.light import decoded, encoded
from kilncore.pixels.mask import Mask
from kilncore.pixels.picture import Picture, nothing

PLAIN = (
    "normal",
    "plus-lighter",
)  # plus-lighter is a way of compositing; its colour is the source's


def paint(
    below: Picture | None,
    source: Picture,
    mode: str = "normal",
    weight: Register | float = 1.0,
    kept_to_art: bool = False,
    linear: bool = False,
) -> Picture | None:
    """Lay `source` over `below`: source-over, or source-atop (alpha unchanged) when kept to the
    art.

    linear : mix in linear light instead of encoded values.
    """
    mode_named(mode)
    if below is None:
        if kept_to_art:
            return None
        below = nothing(source.program)
    source, share, weight = source.unpremultiply(), weight, _alpha(source, weight)
    if below.alpha is None or kept_to_art:
        return _atop(below.unpremultiply(), source.colour, mode, weight, linear)
    weight = _row(source.program, weight)
    return replace(
        _over(below, source.colour, mode, weight, linear),
        solidity=_solidity_of_both(below, source, share, weight),
    )


def cover(picture: Picture | None, mask: Mask, weight: Register | float = 1.0) -> Picture | None:
    """Take the picture away where the mask is low."""
    if picture is None:
        return None
    mask = mask.faded(weight)
    kept, solidity = mask.shown, mask.solidity()
    if picture.alpha is None:
        return Picture(picture.program, picture.colour, kept, solidity=solidity)
    solidity = (
        solidity * (picture.solidity or picture.alpha)
        if solidity
        else picture.solidity and picture.solidity * kept
    )
    colour = (
        tuple(row * kept for row in picture.colour) if picture.premultiplied else picture.colour
    )
    return replace(picture, colour=colour, alpha=picture.alpha * kept, solidity=solidity)


def remake(
    picture: Picture | None,
    made: Picture,
    mode: str = "normal",
    weight: Register | float = 1.0,
    linear: bool = False,
) -> Picture:
    """Go from `picture` towards `made`, which keeps its alpha and takes its colour by the blend
    mode.
    """
    picture = picture or nothing(made.program, made.tint)
    if mode == "normal" and not linear:
        return _towards(picture, made, weight)
    below, above, weight = picture.unpremultiply(), made.unpremultiply(), _row(made.program, weight)
    mixed_colour = _laid_down(below, above.colour, mode)
    if below.alpha is None and above.alpha is None:
        return Picture(made.program, _mixed(below.colour, mixed_colour, weight, linear))
    left, right = (1 - weight) * _solid(below), weight * _solid(above)
    return _sum(
        picture.premultiply(),
        below.colour,
        left,
        mixed_colour,
        right,
        (left + right).clamped(),
        weight,
        linear,
    )


def blended(mode: str, below: tuple, above: tuple) -> tuple:
    """B(cb, cs) of straight colours, by the mode of that name."""
    if mode in PLAIN:
        return above
    if mode in NON_SEPARABLE:
        return NON_SEPARABLE[mode](below, above)
    name = f"blend_{mode_named(mode).name.replace('-', '_')}"
    return tuple(b.program.op(name, b, s) for b, s in zip(below, above, strict=True))


def _row(program: Any, weight: Register | float) -> Register:
    return weight if isinstance(weight, Register) else program.constant(weight)


def _solid(picture: Picture) -> Register:
    return picture.program.constant(1) if picture.alpha is None else picture.alpha


def _alpha(source: Picture, weight: Any) -> Register | float:
    """How much of the source is laid down."""
    if source.alpha is None:
        return weight
    return (
        source.alpha if not isinstance(weight, Register) and weight == 1 else source.alpha * weight
    )


def _laid_down(below: Picture, source: tuple, mode: str) -> tuple:
    """The colour to lay down on straight `below`: cs + ab (B(cb, cs) - cs).

    Where a draft has averaged a mask, ab is how solid the art is where there is any: colours are
    laid on the finished picture's own pixels before those are averaged.
    """
    mixed = blended(mode, below.colour, source)
    if below.alpha is None or mixed is source:
        return mixed
    return tuple(
        below.program.op("lerp", s, m, below.solidity or below.alpha)
        for s, m in zip(source, mixed, strict=True)
    )


def _atop(
    below: Picture, source: tuple, mode: str, weight: Register | float, linear: bool
) -> Picture:
    mixed_colour = _laid_down(below, source, mode)
    if mode == "plus-lighter":
        weight = _row(below.program, weight)
    colour = _mixed(below.colour, mixed_colour, weight, linear, lighter=mode == "plus-lighter")
    return replace(below, colour=colour, tint=None)


def _mixed(
    below: tuple, mixed_colour: tuple, weight: Register | float, linear: bool, lighter: bool = False
) -> tuple:
    """Straight colours, the alpha of which stays."""
    program = below[0].program

    def mixed(b: Register, s: Register):
        if lighter:
            return program.op("multiply_add", b, s, weight, program.constant(1))
        if isinstance(weight, Register):
            return program.op("lerp", b, s, weight)
        return s.clamped() if weight == 1 else program.op("mix", b, s, numbers=(1 - weight, weight))

    if not linear:
        return tuple(mixed(b, s) for b, s in zip(below, mixed_colour, strict=True))
    mixed_light = (
        encoded(mixed(decoded(b), decoded(s))) for b, s in zip(below, mixed_colour, strict=True)
    )
    return _where_it_lands(_row(program, weight), below, mixed_light)


def _over(below: Picture, source: tuple, mode: str, weight: Register, linear: bool) -> Picture:
    """source-over: the alphas' union (or their sum), the colours in their shares."""
    program, lighter = below.program, mode == "plus-lighter"
    straight = below.unpremultiply() if linear or mode not in PLAIN else below
    mixed_colour = _laid_down(straight, source, mode)
    alpha = (
        (below.covered + weight).clamped()
        if lighter
        else program.op("over_alpha", below.covered, weight)
    )
    if not linear:
        kept = (
            below.premultiply().colour
            if lighter
            else tuple((1 - weight) * row for row in below.premultiply().colour)
        )
        return Picture(
            program, _added(kept, mixed_colour, weight, alpha), alpha, premultiplied=True
        )
    left = below.covered if lighter else (1 - weight) * below.covered
    return _sum(
        below.premultiply(), straight.colour, left, mixed_colour, weight, alpha, weight, linear
    )


def _solidity_of_both(
    below: Picture, source: Picture, share: Register | float, weight: Register
) -> Register | None:
    """How solid a picture with another over it is: what both leave open is the product of what each
    does.

    Of a picture of alpha a and firmness f the mean of the squares is f a, and that of what it
    leaves open 1 - 2 a + f a. Where one of the two is not there it is as solid as the other.
    """
    if below.solidity is None and source.solidity is None:
        return None
    program, alpha = below.program, below.covered
    lower, upper = below.solidity or alpha, source.solidity * share if source.solidity else weight
    open_ = (lower * alpha - 2 * alpha + 1) * (upper * weight - 2 * weight + 1)
    both = program.op("over_alpha", alpha, weight)
    share_of_both = program.op("ratio", open_ - 1 + 2 * both, both).clamped()
    nought = program.constant(0)
    return program.op(
        "select", weight, nought, lower, program.op("select", alpha, nought, upper, share_of_both)
    )


def _sum(
    before: Picture,
    below: tuple,
    left: Register,
    mixed_colour: tuple,
    right: Register,
    alpha: Register,
    weight: Register,
    linear: bool,
) -> Picture:
    """Two straight colours, each as much as its share of alpha, premultiplied. before : what stays
    where no weight is.
    """
    if not linear:
        return Picture(
            alpha.program,
            _added((row * left for row in below), mixed_colour, right, alpha),
            alpha,
            premultiplied=True,
        )
    sums = _added(
        (decoded(row) * left for row in below), (decoded(row) for row in mixed_colour), right, alpha
    )
    inverse = alpha.program.op("inverse", alpha)
    lit = (encoded((row * inverse).clamped()) * alpha for row in sums)
    return Picture(
        alpha.program, _where_it_lands(weight, before.colour, lit), alpha, premultiplied=True
    )


def _added(below: Any, mixed_colour: Any, weight: Register, most: Register) -> tuple:
    return tuple(
        weight.program.op("multiply_add", b, s, weight, most)
        for b, s in zip(below, mixed_colour, strict=True)
    )


def _where_it_lands(weight: Register, before: tuple, after: Iterable) -> tuple:
    """Where nothing lands nothing has been through the curves of light."""
    nought = weight.program.constant(0)
    return tuple(
        weight.program.op("select", weight, nought, b, f)
        for b, f in zip(before, after, strict=True)
    )


def _towards(picture: Picture, made: Picture, weight: Register | float) -> Picture:
    if not isinstance(weight, Register) and weight == 1:
        return made
    program, weight = made.program, _row(made.program, weight)
    if made.tint and picture.tint == made.tint:
        return replace(made, alpha=program.op("lerp", picture.covered, made.covered, weight))
    if picture.alpha is not None or made.alpha is not None:
        picture, made = picture.premultiply(), made.premultiply()
    rows = [
        program.op("lerp", a, b, weight) for a, b in zip(picture.planes, made.planes, strict=True)
    ]
    alpha = rows[3] if len(rows) == 4 else None
    return Picture(program, tuple(rows[:3]), alpha, premultiplied=alpha is not None)
