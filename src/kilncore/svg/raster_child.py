"""The child process that draws an SVG: limited in memory, time and files, and killed
without harm.
"""

import re

from kilncore.system.sandbox import answer

NOT_SCALING = b"non-scaling-stroke"
WIDTHS = ("stroke-width", "stroke-dasharray", "stroke-dashoffset")


def drawn(
    svg: bytes,
    size: tuple[float, float],
    matrix: tuple[float, ...],
    width: int,
    height: int,
    unit: float,
) -> bytes:
    """(height, width, 4) straight bytes of a drawing, its middle at (0, 0), under the matrix. unit
    : output px per document px, by which strokes that do not scale with the drawing are as wide as
    on the piece."""
    import pyvips

    pyvips.cache_set_max(0)
    image = pyvips.Image.svgload_buffer(
        wrapped(_to_scale(svg, unit).decode(), size, matrix, width, height).encode(),
        unlimited=False,
    )
    if image.bands != 4:
        image = image.colourspace("srgb").addalpha()
    return image.cast("uchar").write_to_memory()


def wrapped(
    svg: str, size: tuple[float, float], matrix: tuple[float, ...], width: int, height: int
) -> str:
    """A drawing of width x height px that holds `svg`, its middle at (0, 0), under the matrix."""
    a, b, c, d, e, f = matrix
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}" viewBox="0 '
        f'0 {width} {height}">'
        f'<g transform="matrix({a!r} {b!r} {c!r} {d!r} {e!r} {f!r}) translate({-size[0] / 2!r} '
        f'{-size[1] / 2!r})">'
        f"{svg}</g></svg>"
    )


def _to_scale(svg: bytes, unit: float) -> bytes:
    if unit == 1 or NOT_SCALING not in svg:
        return svg
    from lxml import etree

    root = etree.fromstring(svg)
    for element in root.iter():
        if element.get("vector-effect", "").strip() == NOT_SCALING.decode():
            for name in WIDTHS:
                parts = re.split(r"[\s,]+", element.get(name, "").strip())
                if all(re.fullmatch(r"[0-9.]+(e[-+]?\d+)?", part) for part in parts):
                    element.set(name, " ".join(f"{float(part) * unit:g}" for part in parts))
    return etree.tostring(root)


def _draw(request: dict, data: bytes) -> tuple[dict, bytes]:
    shown = request.pop("shown", None)
    if not shown:
        return {}, drawn(data, **request)
    from kilncore.svg.parts import changed, silhouette

    under = shown.pop("under")
    pixels = drawn(changed(data, **shown), **request)
    if not under:
        return {}, pixels
    left = drawn(silhouette(data, shown["paints"], shown["groups_"], under), **request)
    return {}, _within(pixels, left)


def _within(pixels: bytes, left: bytes) -> bytes:
    """The drawing where the white of a silhouette is."""
    import numpy as np

    drawing = np.frombuffer(pixels, np.uint8).reshape(-1, 4).copy()
    white = np.frombuffer(left, np.uint8).reshape(-1, 4).astype(np.uint16)
    seen = ((white[:, 0] * white[:, 3] + 127) // 255).astype(np.uint8)
    np.minimum(drawing[:, 3], seen, out=drawing[:, 3])
    return drawing.tobytes()


if __name__ == "__main__":
    answer(_draw)
