"""The bench in rooms: each uses only those before it; one channel, whose events are all listed."""

import re
from pathlib import Path

import pytest

from kilnmark.bench.rooms import ROOMS
from tests.core.test_architecture import WEB, imports

BENCH = WEB / "bench"
SCRIPTS = {room: sorted((BENCH / room / "static").rglob("*.js")) for room in ROOMS}
EVERY = sorted(BENCH.rglob("*.js"))
OWN = {"keydown", "pointerup", "pointercancel", "blur"}  # of the browser
WITHIN = {"control-draft", "control-change", "colour-given"}  # of a control and its form


def before(room: str) -> set[str]:
    return set(ROOMS[: ROOMS.index(room) + 1])


def test_every_folder_with_scripts_is_a_room():
    assert {path.parent.name for path in BENCH.glob("*/static")} == set(ROOMS)


@pytest.mark.parametrize("room", ROOMS)
def test_python_of_a_room_imports_only_rooms_before_it(room):
    modules = [one for path in (BENCH / room).rglob("*.py") for one, _ in imports(path)]
    used = {one.split(".")[2] for one in modules if one.startswith("kilnmark.bench.")}
    assert used & set(ROOMS) <= before(room)
    assert not used & {"views", "urls"}


@pytest.mark.parametrize("room", ROOMS)
def test_scripts_of_a_room_import_only_rooms_before_it(room):
    """And of the page only the store and the channel."""
    for path in SCRIPTS[room]:
        for there in re.findall(r'from "(\.[^"]*)"', path.read_text()):
            parts = (Path("bench", room) / there).parts
            named = _resolved(parts)
            if named[0] != "bench":
                assert named[0] in ("controls", "kilnmark"), (path.name, there)
            elif len(named) == 2:
                assert named[1] in ("store.js", "events.js"), (path.name, there)
            else:
                assert named[1] in before(room), (path.name, there)


def _resolved(parts) -> list[str]:
    found: list[str] = []
    for part in parts:
        if part == "..":
            found.pop()
        elif part != ".":
            found.append(part)
    return found


def _events() -> set[str]:
    text = (BENCH / "static" / "bench" / "events.js").read_text()
    listed = text[text.index("EVENTS = {") : text.index("\n};")]
    return set(re.findall(r'^ {2}"?([a-z-]+)"?:', listed, re.M))


def test_all_that_is_said_is_listed_and_heard():
    """Whatever is said or heard is in the list; whatever is in the list is said, and heard."""
    scripts = [path.read_text() for path in EVERY]
    controls = [path.read_text() for path in (WEB / "controls" / "static").rglob("*.js")]
    pages = [path.read_text() for path in WEB.rglob("*.html")]
    said = {one for text in scripts for one in re.findall(r'\bsay\(\s*"([a-z-]+)"', text)}
    said |= {one for text in pages for one in re.findall(r'data-say="([a-z-]+)"', text)}
    said |= {
        one for text in scripts for one in re.findall(r'^ {2}"?\S+: "([a-z]+-wanted)"', text, re.M)
    }
    heard = {one for text in scripts for one in re.findall(r'\bhear\(\s*"([a-z-]+)"', text)}
    heard |= {one for text in pages for one in re.findall(r"@([a-z-]+)\.window=", text)}
    for text in controls:
        heard |= set(re.findall(r'window\.addEventListener\("([a-z-]+)"', text))
    heard -= OWN
    bubbled = {one for text in controls for one in re.findall(r'\$dispatch\("([a-z-]+)"', text)}
    events = _events()
    assert bubbled - WITHIN <= events
    assert said - events == set() and heard - events == set()
    assert events - said - bubbled == set(), "nobody says these"
    assert events - heard == set(), "nobody hears these"


def test_the_channel_is_the_only_one():
    for path in EVERY:
        text = path.read_text()
        assert "extends EventTarget" not in text and "$dispatch" not in text, path.name
        if path.name != "events.js":
            assert "new CustomEvent" not in text and "dispatchEvent(new Event" not in text, (
                path.name
            )
