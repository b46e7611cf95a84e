"""Keeps templates within 100 columns: `python -m tools.wrap_templates [--check]`.

A line that is longer is broken where white space does not count: between the attributes of a tag,
one on each line, where there is white space in a text, and beside what stands in lines of its own.
What a browser shows stays the same.
"""

import re
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1] / "src" / "kilnmark"
WIDE, STEP = 100, 4
QUOTED = r'"(?:\{%.*?%\}|\{\{.*?\}\}|[^"])*"' + r"|'(?:\{%.*?%\}|\{\{.*?\}\}|[^'])*'"
TAG = rf"<[a-zA-Z](?:{QUOTED}|\{{%.*?%\}}|\{{\{{.*?\}}\}}|[^<>\"'])*>"
TOKEN = re.compile(
    rf"({TAG}|\{{%.*?%\}}|\{{\{{.*?\}}\}}|\{{#.*?#\}}|</[^>]*>|<!--.*?-->)", re.DOTALL
)
ATTRIBUTE = re.compile(rf"(?:{QUOTED}|\{{%.*?%\}}|\{{\{{.*?\}}\}}|[^\s\"'{{]|\{{)+")
BLOCKS = re.compile(
    r"</?(li|ul|ol|p|div|header|footer|section|fieldset|legend|dialog|option|optgroup|select|table|"
    r"thead|tbody|tr|td|th|h[1-6]|dl|dt|dd|details|summary|form|main|nav|figure|figcaption)\b"
)
VERBATIM = re.compile(r"<(script|style|pre|textarea)\b.*?</\1>", re.DOTALL)


def templates() -> list[Path]:
    """All of the application's own."""
    return sorted(ROOT.rglob("templates/**/*.html"))


def wrapped(text: str) -> str:
    """The same template, with no line too long that can be broken."""
    kept = {f"\0{n}\0": found[0] for n, found in enumerate(VERBATIM.finditer(text))}
    for mark, verbatim in kept.items():
        text = text.replace(verbatim, mark, 1)
    out = _Lines()
    for token in TOKEN.split(text):
        if re.fullmatch(TAG, token, re.DOTALL):
            out.tag(token)
        elif TOKEN.fullmatch(token):
            out.whole(token)
        else:
            out.text(token)
    text = "\n".join(line.rstrip() for line in out.lines)
    for mark, verbatim in kept.items():
        text = text.replace(mark, verbatim, 1)
    return text


class _Lines:
    def __init__(self):
        self.lines, self._after_block = [""], False

    def whole(self, token: str) -> None:
        """What is never broken; on a line of its own where there is white space before it."""
        first, *rest = token.split("\n")
        self._room_for(token)
        self.lines[-1] += first
        self.lines += rest
        self._after_block = bool(BLOCKS.match(token))

    def tag(self, token: str) -> None:
        """Whole where it has room, else with an attribute on each line."""
        self._room_for(token)
        self._after_block = bool(BLOCKS.match(token))
        if "\n" not in token and self._fits(token):
            self.lines[-1] += token
            return
        name = re.match(r"<[^\s>]+", token)[0]
        closing = "/>" if token.endswith("/>") else ">"
        attributes = ATTRIBUTE.findall(token[len(name) : -len(closing)])
        together = " ".join([name, *attributes]) + closing
        if "\n" not in together and self._fits(together):
            self.lines[-1] += together
            return
        indent = self._indent + STEP
        self.lines[-1] += name
        for attribute in attributes:
            self._next(indent)
            self.lines[-1] += attribute
        self.lines[-1] += closing

    def text(self, text: str) -> None:
        """Broken where there is white space; lines that begin anew do so again."""
        for word in re.findall(r"\n[ \t]*|[ \t]+|\S+", text):
            if word.startswith("\n"):
                self.lines.append(word[1:])
            elif word.isspace():
                self.lines[-1] += word
            else:
                self._room_for(word)
                self.lines[-1] += word
                self._after_block = False

    @property
    def _indent(self) -> int:
        return len(self.lines[-1]) - len(self.lines[-1].lstrip())

    def _fits(self, token: str) -> bool:
        return len(self.lines[-1]) + len(token) <= WIDE

    def _room_for(self, token: str) -> None:
        """A new line for what has no room, where white space before it does not count."""
        line = self.lines[-1]
        free = line.endswith(" ") or self._after_block or BLOCKS.match(token)
        if not self._fits(token.split("\n")[0]) and line.strip() and free:
            more = 0 if getattr(self, "_went_on", None) == len(self.lines) else STEP // 2
            self._next(self._indent + more)
            self._went_on = len(self.lines)

    def _next(self, indent: int) -> None:
        self.lines.append(" " * indent)


def main() -> int:
    check, stale = "--check" in sys.argv[1:], []
    for path in templates():
        text = path.read_text()
        fresh = wrapped(text)
        if fresh != text:
            stale.append(path)
            if not check:
                path.write_text(fresh)
    if check and stale:
        print("Too wide; run python -m tools.wrap_templates:", *stale, sep="\n  ")
    return 1 if check and stale else 0


if __name__ == "__main__":
    sys.exit(main())
