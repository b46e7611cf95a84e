"""Style rules of an SVG, resolved into the attributes of its elements, so that what is drawn stands
on the elements alone.

Sources: CSS Cascade Level 4 (importance, specificity, order), SVG 2 (presentation attributes come
before all rules), Selectors Level 4 as far as cssselect2 knows them; rules with other selectors,
and all at-rules, are passed over.
"""

import re
from functools import lru_cache
from typing import Any

import cssselect2
import tinycss2
from lxml import etree

from kilncore.svg.parsing import local

PROPERTIES = frozenset(
    "fill fill-opacity fill-rule stroke stroke-width stroke-opacity stroke-linecap "
    "stroke-linejoin stroke-miterlimit "
    "stroke-dasharray stroke-dashoffset opacity color display visibility clip-path clip-rule "
    "mask stop-color "
    "stop-opacity marker marker-start marker-mid marker-end overflow paint-order vector-effect "
    "shape-rendering "
    "isolation mix-blend-mode mask-type enable-background color-interpolation".split()
)
OF_TEXT = frozenset(
    "font-family font-size font-weight font-style font text-anchor letter-spacing "
    "white-space".split()
)  # needed until text is turned into outlines
RESOLVED = PROPERTIES | OF_TEXT
STYLE_ONLY = (
    "isolation",
    "mix-blend-mode",
    "paint-order",
    "mask-type",
)  # properties that have no attribute of their name
MARKERS = ("marker-start", "marker-mid", "marker-end")
PLAIN = re.compile(r"""[^"'\\/*{}@()!<]*""")  # such declarations can be told apart by ; and : alone
SIMPLE_CALL = re.compile(r"(?:url\(#[\w.:-]*\)|rgba?\([\d\s.,%]*\))")
FONT = re.compile(r"([\d.]+(?:px|pt|em|%|mm|cm|in|pc))(?:\s*/\s*\S+)?\s+(.+)$", re.S)
SIMPLE = re.compile(r"\s*[\w-]*(?:[.#][\w-]+)*(?:\s*,\s*[\w-]*(?:[.#][\w-]+)*)*\s*")
INLINE, IMPORTANT = (1, 0, 0, 0), 2


def resolve(root: Any) -> None:
    """Write what the style sheets and style attributes say into the elements' attributes; sheets
    and style attributes go.
    """
    matcher, simple = cssselect2.Matcher(), True
    order = 0
    for sheet in [element for element in root.iter() if local(element) == "style"]:
        for rule in tinycss2.parse_stylesheet(
            "".join(sheet.itertext()), skip_comments=True, skip_whitespace=True
        ):
            if rule.type != "qualified-rule":
                continue
            declared = declarations(tinycss2.serialize(rule.content))
            simple = simple and bool(SIMPLE.fullmatch(tinycss2.serialize(rule.prelude)))
            for selector in _selectors(rule.prelude) if declared else ():
                order += 1
                matcher.add_selector(selector, (order, declared))
    matches_of = _matching(matcher, root, simple) if order else lambda element: ()
    alive, known = [], {}  # what is told apart by its identity must stay
    for element in root.iter():
        matches = matches_of(element)
        if matches or "style" in element.attrib:
            alive.append(matches)
            _apply(element, matches, known)


def _matching(matcher: Any, root: Any, simple: bool):
    """A function from an element to the rules that match it. Where all selectors are simple, of
    tag, class and id alone, what matches one matches all that have the same.
    """
    if not simple:
        wrapped = {
            id(w.etree_element): w
            for w in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree()
        }
        return lambda e: matcher.match(wrapped[id(e)]) if id(e) in wrapped else ()

    @lru_cache(maxsize=10_000)
    def of_sort(tag: str, classes: str, name: str):
        alone = etree.Element(tag, {"class": classes, "id": name})
        return matcher.match(cssselect2.ElementWrapper.from_xml_root(alone))

    def of(element: Any):
        given = element.attrib
        if not isinstance(element.tag, str):
            return ()
        return of_sort(element.tag, given.get("class", ""), given.get("id", ""))

    return of


def _selectors(prelude: list) -> list:
    try:
        return [
            selector
            for selector in cssselect2.compile_selector_list(prelude)
            if selector.pseudo_element is None
        ]
    except cssselect2.SelectorError:
        return []


def _apply(element: Any, matches: list | tuple, known: dict) -> None:
    """known : what rules come to, for elements that say nothing themselves."""
    style = element.attrib.pop("style", "")
    if style:
        won = _won(matches, style)
    elif id(matches) in known:
        won = known[id(matches)]
    else:
        won = known[id(matches)] = _won(matches, "")
    kept = []
    for name, value in won:
        if name == "font":
            _set_font(element, value)
        elif name in STYLE_ONLY:
            kept.append(f"{name}:{value}")
        else:
            element.set(name, value)
    if kept:
        element.set("style", ";".join(kept))


def _won(matches: list | tuple, style: str) -> list[tuple[str, str]]:
    """(property, value) of all that rules and an element's own style say, the strongest of each."""
    won: dict = {}
    for specificity, _, pseudo, (order, declared) in matches:
        for name, value, important in declared if pseudo is None else ():
            _offer(won, name, value, (important, (0, *specificity), order))
    for name, value, important in declarations(style):
        _offer(won, name, value, (important, INLINE, 0))
    return [(name, value) for name, (_, value) in won.items()]


def _set_font(element: Any, value: str) -> None:
    """The size and the families of the shorthand (CSS Fonts Level 3)."""
    match = FONT.search(value)
    if match:
        element.set("font-size", match[1])
        element.set("font-family", match[2])


def _offer(won: dict, name: str, value: str, weight: tuple) -> None:
    for each in MARKERS if name == "marker" else (name,):
        if each not in won or won[each][0] <= weight:
            won[each] = weight, value


def declarations(text: str) -> list[tuple[str, str, bool]]:
    """(property, value, whether it is important) of those that are known."""
    if PLAIN.fullmatch(SIMPLE_CALL.sub("", text)):
        pairs = (part.split(":", 1) for part in text.split(";") if ":" in part)
        return [
            (name, value.strip(), False)
            for name, value in ((n.strip().lower(), v) for n, v in pairs)
            if name in RESOLVED and value.strip()
        ]
    return [
        (item.lower_name, tinycss2.serialize(item.value).strip(), item.important)
        for item in tinycss2.parse_blocks_contents(text, skip_comments=True, skip_whitespace=True)
        if item.type == "declaration" and item.lower_name in RESOLVED
    ]
