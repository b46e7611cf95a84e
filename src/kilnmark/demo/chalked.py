"""Chalk on a hull, drawn by hand: a spot that is ringed, an arrow to it, and a tally of plates."""

from kilncore.strokes import Stroke

CHALK = "#ece5d2"
LAID = {"tip": "chalk", "gap": 0.09, "loaded": 0.62, "turns": 1.0, "flips": True, "sizes": 0.2}
RING = (
    (-0.62, -0.34),
    (-0.93, -0.28),
    (-1.06, 0.02),
    (-0.86, 0.33),
    (-0.48, 0.36),
    (-0.23, 0.09),
    (-0.33, -0.25),
    (-0.7, -0.39),
    (-0.98, -0.22),
)
ARROW = ((0.72, -0.05), (0.36, -0.14), (0.02, -0.08), (-0.14, 0.03))
HEAD = ((0.06, -0.2), (-0.15, 0.04), (0.16, 0.13))
TALLY = tuple(((0.98 + 0.13 * n, -0.33 + 0.02 * n), (0.95 + 0.13 * n, 0.3)) for n in range(4))
SLASH = ((0.84, 0.22), (1.18, 0.0), (1.55, -0.24))


def chalk_marks(radius: float = 0.035) -> list[Stroke]:
    """Strokes in the frame of a mark that is drawn by hand. radius : of the chalk, in its units."""

    def curve(points: tuple, n: int, **more) -> Stroke:
        how = {**LAID, "curved": True, "seed": 31 + n, "id": 31 + n, **more}
        return Stroke(points=points, radius=radius * (1 + 0.12 * (n % 3)), **how)

    return [
        curve(RING, 0, taper_in=0.05, taper_out=0.3),
        curve(ARROW, 1, taper_in=0.1),
        curve(HEAD, 2, corners=(1,)),
        *(curve(line, 3 + n, taper_out=0.12) for n, line in enumerate(TALLY)),
        curve(SLASH, 7, taper_in=0.05, taper_out=0.2),
    ]
