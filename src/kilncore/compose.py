"""How a result meets what it lands on: paint, cover, remake, written as rows on a tape.

`weight` is 0..1, a number or a row. Nothing is None, and comes to the same bits as a picture that is transparent. What lands
nowhere on a pixel leaves it as it was, to the bit.
Sources: Porter and Duff 1984; W3C Compositing and Blending Level 1 (source-over, source-atop with blending); CSS Compositing
Level 2 (plus-lighter); the rest is fixed in docs/engine.md.
"""

from dataclasses import replace

from kilncore.light import decoded, encoded
from kilncore.masks import Mask
from kilncore.modes import mode_named
from kilncore.rows.picture import Picture, nothing
from kilncore.rows.tape import Row
from kilncore.whole_modes import WHOLE

PLAIN = ("normal", "plus-lighter")  # plus-lighter is a way of compositing; its colour is the source's


def paint(below: Picture | None, source: Picture, mode="normal", weight=1.0, kept_to_art=False, linear=False) -> Picture | None:
    """Lay `source` over `below`: source-over, or source-atop (alpha unchanged) when kept to the art.

    linear : mix in linear light instead of encoded values.
    """
    mode_named(mode)
    if below is None:
        if kept_to_art:
            return None
        below = nothing(source.tape)
    source, share, weight = source.straight(), weight, _alpha(source, weight)
    if below.alpha is None or kept_to_art:
        return _atop(below.straight(), source.colour, mode, weight, linear)
    weight = _row(source.tape, weight)
    return replace(_over(below, source.colour, mode, weight, linear), firm=_firm_of_both(below, source, share, weight))


def cover(picture: Picture | None, mask: Mask, weight=1.0) -> Picture | None:
    """Take the picture away where the mask is low."""
    if picture is None:
        return None
    mask = mask.faded(weight)
    kept, firm = mask.shown, mask.firmness()
    if picture.alpha is None:
        return Picture(picture.tape, picture.colour, kept, firm=firm)
    firm = firm * (picture.firm or picture.alpha) if firm else picture.firm and picture.firm * kept
    colour = tuple(row * kept for row in picture.colour) if picture.premultiplied else picture.colour
    return replace(picture, colour=colour, alpha=picture.alpha * kept, firm=firm)


def remake(picture: Picture | None, made: Picture, mode="normal", weight=1.0, linear=False) -> Picture:
    """Go from `picture` towards `made`, which keeps its alpha and takes its colour by the blend mode."""
    picture = picture or nothing(made.tape, made.tint)
    if mode == "normal" and not linear:
        return _towards(picture, made, weight)
    below, above, weight = picture.straight(), made.straight(), _row(made.tape, weight)
    laid = _laid_down(below, above.colour, mode)
    if below.alpha is None and above.alpha is None:
        return Picture(made.tape, _mixed(below.colour, laid, weight, linear))
    left, right = (1 - weight) * _solid(below), weight * _solid(above)
    return _sum(picture.laid(), below.colour, left, laid, right, (left + right).held(), weight, linear)


def blended(mode: str, below: tuple, above: tuple) -> tuple:
    """B(cb, cs) of straight colours, by the mode of that name."""
    if mode in PLAIN:
        return above
    if mode in WHOLE:
        return WHOLE[mode](below, above)
    number = mode_named(mode).number
    return tuple(b.tape.row("blend", b, s, mode=number) for b, s in zip(below, above, strict=True))


def _row(tape, weight) -> Row:
    return weight if isinstance(weight, Row) else tape.constant(weight)


def _solid(picture: Picture) -> Row:
    return picture.tape.constant(1) if picture.alpha is None else picture.alpha


def _alpha(source: Picture, weight) -> Row | float:
    """How much of the source is laid down."""
    if source.alpha is None:
        return weight
    return source.alpha if not isinstance(weight, Row) and weight == 1 else source.alpha * weight


def _laid_down(below: Picture, source: tuple, mode: str) -> tuple:
    """The colour to lay down on straight `below`: cs + ab (B(cb, cs) - cs).

    Where a draft has averaged a mask, ab is how solid the art is where there is any: colours are laid on the finished
    picture's own pixels before those are averaged.
    """
    mixed = blended(mode, below.colour, source)
    if below.alpha is None or mixed is source:
        return mixed
    return tuple(below.tape.row("between", s, m, below.firm or below.alpha) for s, m in zip(source, mixed, strict=True))


def _atop(below: Picture, source: tuple, mode: str, weight: Row | float, linear: bool) -> Picture:
    laid = _laid_down(below, source, mode)
    if mode == "plus-lighter":
        weight = _row(below.tape, weight)
    colour = _mixed(below.colour, laid, weight, linear, lighter=mode == "plus-lighter")
    return replace(below, colour=colour, tint=None)


def _mixed(below: tuple, laid: tuple, weight: Row | float, linear: bool, lighter: bool = False) -> tuple:
    """Straight colours, the alpha of which stays."""
    tape = below[0].tape

    def mixed(b, s):
        if lighter:
            return tape.row("added", b, s, weight, tape.constant(1))
        if isinstance(weight, Row):
            return tape.row("between", b, s, weight)
        return s.held() if weight == 1 else tape.row("shared", b, s, numbers=(1 - weight, weight))

    if not linear:
        return tuple(mixed(b, s) for b, s in zip(below, laid, strict=True))
    found = (encoded(mixed(decoded(b), decoded(s))) for b, s in zip(below, laid, strict=True))
    return _where_it_lands(_row(tape, weight), below, found)


def _over(below: Picture, source: tuple, mode: str, weight: Row, linear: bool) -> Picture:
    """source-over: the alphas' union (or their sum), the colours in their shares."""
    tape, lighter = below.tape, mode == "plus-lighter"
    straight = below.straight() if linear or mode not in PLAIN else below
    laid = _laid_down(straight, source, mode)
    alpha = (below.alpha + weight).held() if lighter else tape.row("united", below.alpha, weight)
    if not linear:
        found = below.laid().colour if lighter else tuple((1 - weight) * row for row in below.laid().colour)
        return Picture(tape, _added(found, laid, weight, alpha), alpha, premultiplied=True)
    left = below.alpha if lighter else (1 - weight) * below.alpha
    return _sum(below.laid(), straight.colour, left, laid, weight, alpha, weight, linear)


def _firm_of_both(below: Picture, source: Picture, share: Row | float, weight: Row) -> Row | None:
    """How solid a picture with another over it is: what both leave open is the product of what each does.

    Of a picture of alpha a and firmness f the mean of the squares is f a, and that of what it leaves open 1 - 2 a + f a.
    Where one of the two is not there it is as solid as the other.
    """
    if below.firm is None and source.firm is None:
        return None
    tape, alpha = below.tape, below.alpha
    lower, upper = below.firm or alpha, source.firm * share if source.firm else weight
    open_ = (lower * alpha - 2 * alpha + 1) * (upper * weight - 2 * weight + 1)
    both = tape.row("united", alpha, weight)
    found = tape.row("ratio", open_ - 1 + 2 * both, both).held()
    nought = tape.constant(0)
    return tape.row("chosen", weight, nought, lower, tape.row("chosen", alpha, nought, upper, found))


def _sum(before: Picture, below: tuple, left: Row, laid: tuple, right: Row, alpha: Row, weight: Row, linear: bool) -> Picture:
    """Two straight colours, each as much as its share of alpha, premultiplied. before : what stays where no weight is."""
    if not linear:
        return Picture(alpha.tape, _added((row * left for row in below), laid, right, alpha), alpha, premultiplied=True)
    found = _added((decoded(row) * left for row in below), (decoded(row) for row in laid), right, alpha)
    inverse = alpha.tape.row("inverse", alpha)
    found = (encoded((row * inverse).held()) * alpha for row in found)
    return Picture(alpha.tape, _where_it_lands(weight, before.colour, found), alpha, premultiplied=True)


def _added(below, laid, weight: Row, most: Row) -> tuple:
    return tuple(weight.tape.row("added", b, s, weight, most) for b, s in zip(below, laid, strict=True))


def _where_it_lands(weight: Row, before: tuple, found) -> tuple:
    """Where nothing lands nothing has been through the curves of light."""
    nought = weight.tape.constant(0)
    return tuple(weight.tape.row("chosen", weight, nought, b, f) for b, f in zip(before, found, strict=True))


def _towards(picture: Picture, made: Picture, weight) -> Picture:
    if not isinstance(weight, Row) and weight == 1:
        return made
    tape, weight = made.tape, _row(made.tape, weight)
    if made.tint and picture.tint == made.tint:
        return replace(made, alpha=tape.row("between", picture.alpha, made.alpha, weight))
    if picture.alpha is not None or made.alpha is not None:
        picture, made = picture.laid(), made.laid()
    rows = [tape.row("between", a, b, weight) for a, b in zip(picture.planes, made.planes, strict=True)]
    return Picture(tape, tuple(rows[:3]), *rows[3:], premultiplied=len(rows) == 4)
