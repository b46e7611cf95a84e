"""The child process that draws an SVG: limited in memory, time and files, and killed without harm."""

import json
import resource
import struct
import sys

MEMORY = 3 * 2**30
CPU_SECONDS = 25


def limit() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (CPU_SECONDS, CPU_SECONDS))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def wrapped(svg: str, size, matrix, width: int, height: int) -> str:
    """A drawing of width x height px that holds `svg`, its middle at (0, 0), under the matrix."""
    a, b, c, d, e, f = matrix
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}" viewBox="0 0 {width} {height}">'
        f'<g transform="matrix({a!r} {b!r} {c!r} {d!r} {e!r} {f!r}) translate({-size[0] / 2!r} {-size[1] / 2!r})">'
        f"{svg}</g></svg>"
    )


def main() -> None:
    limit()
    data = sys.stdin.buffer.read()
    (length,) = struct.unpack("<I", data[:4])
    request = json.loads(data[4 : 4 + length])
    drawing = wrapped(data[4 + length :].decode(), **request).encode()
    import pyvips

    pyvips.cache_set_max(0)
    image = pyvips.Image.svgload_buffer(drawing)
    if image.bands != 4:
        image = image.colourspace("srgb").addalpha()
    sys.stdout.buffer.write(image.cast("uchar").write_to_memory())


if __name__ == "__main__":
    main()
