"""Skia paths united, cut out of one another, and grown or shrunk."""

from collections.abc import Sequence

import pathops

MITRE = 4.0  # times the width: sharper corners are cut off


def united(*paths: pathops.Path) -> pathops.Path:
    """All of them as one."""
    return _combined(paths[:1], paths[1:], pathops.PathOp.UNION)


def cut(path: pathops.Path, other: pathops.Path) -> pathops.Path:
    """What the first has and the other has not."""
    return _combined([path], [other], pathops.PathOp.DIFFERENCE)


def met(path: pathops.Path, other: pathops.Path) -> pathops.Path:
    """What both have."""
    return _combined([path], [other], pathops.PathOp.INTERSECTION)


def band(path: pathops.Path, width: float, mitre: float = MITRE) -> pathops.Path:
    """Half of it to either side of an outline. Its loops overlap: united by itself it would lose
    its holes. mitre : times the width, beyond which corners are cut off.
    """
    found = pathops.Path(path)
    found.stroke(width, pathops.LineCap.BUTT_CAP, pathops.LineJoin.MITER_JOIN, mitre)
    return found


def grown(path: pathops.Path, by: float, mitre: float = MITRE) -> pathops.Path:
    """A path whose outline lies so far outside its own; inside, where that is below 0."""
    if not by:
        return united(path)
    around = band(path, 2 * abs(by), mitre)
    return united(path, around) if by > 0 else cut(path, around)


def _combined(paths: Sequence, others: Sequence, how: pathops.PathOp) -> pathops.Path:
    """The first path as it is, where Skia cannot tell."""
    builder = pathops.OpBuilder(fix_winding=True, keep_starting_points=False)
    for path in paths:
        builder.add(path, pathops.PathOp.UNION)
    for other in others:
        builder.add(other, how)
    try:
        return builder.resolve()
    except pathops.PathOpsError:
        return pathops.Path(paths[0])
