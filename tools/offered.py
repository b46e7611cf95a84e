"""`python -m tools.offered` writes the list of functions that docs/engine.md offers to callers,
made from their signatures and docstrings; `--check` says whether it is as it would be written.
"""

import inspect
import sys
from importlib import import_module
from itertools import pairwise
from pathlib import Path

PAGE = Path(__file__).parents[1] / "docs" / "engine.md"
BEGIN, END = "<!-- made by `python -m tools.offered` -->", "<!-- to here -->"
GROUPS = {
    "Pictures": (
        *("blend.composite", "sampling.displace", "sampling.displace_by_slope", "blur.gaussian"),
        *("masks.luminance", "masks.blend_range", "noise.turbulence", "morphology.morphology"),
        "transfer.transferred",
    ),
    "Drawing a piece": (
        *("engine.render", "engine.exact", "engine.pixels", "engine.together"),
        "engine.lifted.lifted",
        *("engine.see_through.see_through", "engine.without.without_step"),
        *("engine.without.without_treatments", "output.fire.fire"),
    ),
    "Documents and edits": (
        *("document.load", "document.dump", "edits.apply", "layout.layout.Layout"),
        *("recipe.taken_from", "recipe.fitted", "strokes.file_of", "strokes.strokes_in"),
        "assets.Unsaved",
    ),
    "Reading a piece": (
        *("engine.range_tones.range_tones", "engine.range_tones.tone_at"),
        *("engine.art_colours.art_colours", "engine.art_colours.art_colour_at"),
        *("engine.held_back.held_back", "engine.outlines.outlined", "engine.followed.followed"),
        *("engine.followed.torn_at", "engine.matched.surface_of", "engine.matched.softness_after"),
        *("engine.matched.share_through", "engine.placing.placements"),
        *("engine.solved.solved_wear", "engine.worn.worn"),
    ),
    "Measuring and solving": (
        *("measure.coarseness", "measure.seam", "measure.evenness", "measure.direction"),
        *("measure.folding", "measure.grain", "measure.softness", "measure.strokes"),
        *("measure.strokes_left.strokes_left", "measure.flat_colours"),
        *("measure.difference.difference", "solve.wear_points", "solve.placing.scores"),
        "solve.points.black_point",
    ),
    "Files from outside": (
        *("artwork.intake.brought_in", "artwork.parting.parted", "artwork.knockout.knock_out"),
        *("artwork.ink.ink_from_paper", "textures.examining.examined", "textures.prep.apply"),
        *(
            "textures.endless.endless",
            "textures.facts.facts_of",
            "typesetting.intake.font_of",
            "typesetting.fonts.face",
        ),
    ),
}


def offered(name: str):
    """What stands under a name, below kilncore."""
    module, _, own = name.rpartition(".")
    return getattr(import_module(f"kilncore.{module}"), own)


def section(text: str, title: str) -> list[str]:
    """The lines of a section of a docstring in numpydoc form."""
    lines = text.split("\n")
    under = "-" * len(title)
    if (title, under) not in pairwise(lines):
        return []
    rest = lines[list(pairwise(lines)).index((title, under)) + 2 :]
    ends = [n for n, line in enumerate(rest) if line and set(line) == {"-"}]
    return [line for line in rest[: ends[0] - 1 if ends else None] if line.strip()]


def told(name: str) -> str:
    """One entry: how it is called, what comes back, and the first sentences of its docstring."""
    thing = offered(name)
    text = inspect.getdoc(thing) or ""
    first = " ".join(text.split("\n\n")[0].split())
    gives = [line for line in section(text, "Returns") if not line.startswith(" ")]
    after = f" -> {gives[0]}" if gives else ""
    return f"- `kilncore.{name}({_arguments(thing)}){after}`\n  {first}"


def _arguments(thing) -> str:
    found, named = [], False
    for one in inspect.signature(thing).parameters.values():
        if one.kind is one.KEYWORD_ONLY and not named:
            found.append("*")
            named = True
        found.append(_argument(one))
    return ", ".join(found)


def _argument(one: inspect.Parameter) -> str:
    stars = {one.VAR_POSITIONAL: "*", one.VAR_KEYWORD: "**"}.get(one.kind, "")
    if one.default is one.empty:
        return stars + one.name
    plain = one.default is None or isinstance(one.default, bool | int | float | str | tuple)
    return f"{one.name}={one.default!r}" if plain else f"{one.name}=..."


def made() -> str:
    """The whole list."""
    parts = [f"### {title}\n\n" + "\n".join(map(told, names)) for title, names in GROUPS.items()]
    return "\n\n".join(parts)


def main() -> int:
    """Write the page, or with `--check` say whether it is stale."""
    text = PAGE.read_text()
    start, end = text.index(BEGIN) + len(BEGIN), text.index(END)
    fresh = f"{text[:start]}\n\n{made()}\n\n{text[end:]}"
    if "--check" not in sys.argv:
        PAGE.write_text(fresh)
    elif fresh != text:
        print("docs/engine.md is stale: run `python -m tools.offered`.")
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
