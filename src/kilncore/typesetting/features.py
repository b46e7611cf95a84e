"""OpenType features by plain names.

Source: the registry of features of the OpenType specification; names are ours.
"""

import re

NAMES = {
    "liga": "Ligatures",
    "dlig": "Rare ligatures",
    "hlig": "Old ligatures",
    "calt": "Letters that fit their neighbours",
    "swsh": "Swashes",
    "cswh": "Swashes that fit",
    "titl": "Titling capitals",
    "salt": "Other forms",
    "hist": "Old forms",
    "smcp": "Small capitals",
    "c2sc": "Capitals to small capitals",
    "case": "Signs at capital height",
    "onum": "Old-style figures",
    "lnum": "Lining figures",
    "pnum": "Figures as wide as they are",
    "tnum": "Figures of one width",
    "frac": "Fractions",
    "zero": "Slashed zero",
    "ordn": "Ordinals",
    "sups": "Raised figures",
    "subs": "Lowered figures",
    "ornm": "Ornaments",
}
ON = ("liga", "calt")  # as text is set where nothing else is said
SET = re.compile(r"^ss(\d\d)$")
AXES = {
    "wght": "Weight",
    "wdth": "Width",
    "opsz": "Cut for size",
    "slnt": "Slant",
    "ital": "Italic",
    "SOFT": "Softness",
    "WONK": "Leaning forms",
    "GRAD": "Grade",
}


def name_of(tag: str) -> str:
    """The plain name of a feature, '' of one that nobody switches by hand."""
    if style_set := SET.match(tag):
        return f"Style set {int(style_set[1])}"
    return NAMES.get(tag, "")


def offered(tags: tuple[str, ...]) -> list[tuple[str, str]]:
    """(tag, name) of those of a font that can be switched, in the order of the list above."""
    order = list(NAMES)
    named = [(tag, name_of(tag)) for tag in tags if name_of(tag)]
    return sorted(named, key=lambda one: (order.index(one[0]) if one[0] in order else 99, one[0]))
