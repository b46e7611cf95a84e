"""An SVG file as a tree: unpacked, parsed, its own entities expanded, all within bounds. Run in a
limited child.
"""

import zlib
from typing import Any

from lxml import etree

from kilncore.errors import UnusableFile

SVG, XLINK = "http://www.w3.org/2000/svg", "http://www.w3.org/1999/xlink"
MAX_BYTES = 8 * 2**20
MAX_NODES, MAX_DEPTH = 200_000, 100
TOO_LARGE = (
    f"This SVG is larger than {MAX_BYTES >> 20} MB. Simplify it, or bring it in as a picture."
)


def parsed(data: bytes):
    """The root element; UnusableFile, with the reason, for anything else."""
    data = unpacked(data)
    if len(data) > MAX_BYTES:
        raise UnusableFile(TOO_LARGE)
    # entities that a file defines for itself are expanded, as far as the parser's own guard against
    # bombs lets them
    parser = etree.XMLParser(
        resolve_entities="internal",
        no_network=True,
        huge_tree=False,
        remove_comments=True,
        remove_pis=True,
        load_dtd=False,
        dtd_validation=False,
    )
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError, LookupError):
        raise UnusableFile(
            "This is not an SVG, or it is damaged: it could not be read to its end."
        ) from None
    if root.tag not in (f"{{{SVG}}}svg", "svg"):
        raise UnusableFile("This is not an SVG: its outermost part has another name.")
    _check_size(root)
    return _in_svg_namespace(root) if root.tag == "svg" else root


def unpacked(data: bytes) -> bytes:
    """The file itself, of a compressed one (SVGZ, RFC 1952) what it holds, to a byte beyond the
    bound.
    """
    if not data.startswith(b"\x1f\x8b"):
        return data
    try:
        return zlib.decompressobj(31).decompress(data, MAX_BYTES + 1)
    except zlib.error:
        raise UnusableFile("This compressed SVG is damaged: it could not be unpacked.") from None


def local(element: Any) -> str:
    """The name of an SVG element, '' of any other."""
    tag = element.tag
    return tag[len(SVG) + 2 :] if isinstance(tag, str) and tag.startswith(f"{{{SVG}}}") else ""


def _check_size(root: Any) -> None:
    depth = most = count = 0
    for event, _ in etree.iterwalk(root, events=("start", "end")):
        depth += 1 if event == "start" else -1
        most, count = max(most, depth), count + (event == "start")
    if most > MAX_DEPTH + 1:
        raise UnusableFile(
            f"This SVG is nested more than {MAX_DEPTH} levels deep. Ungroup it and bring it in "
            "again."
        )
    if count > MAX_NODES:
        raise UnusableFile(
            f"This SVG has more than {MAX_NODES:,} parts. Simplify it, or bring it in as a picture."
        )


def _in_svg_namespace(root: Any):
    for element in root.iter():
        if isinstance(element.tag, str) and not element.tag.startswith("{"):
            element.tag = f"{{{SVG}}}{element.tag}"
    return root
