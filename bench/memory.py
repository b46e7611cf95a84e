"""What the server holds while somebody works on every piece of the demo, one after the other, and
what it gives back once nothing happens.

`python -m bench.memory` works for four minutes, `python -m bench.memory 60` for an hour. On a
machine of 8 GB: `KILN_MEMORY_MB=8192 python -m bench.memory`.
"""

import json
import os
import re
import shutil
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.parse
from collections.abc import Iterator
from functools import partial
from pathlib import Path

from fuzz.killing import Person, Server

from bench.gestures import WORLD, make_world
from bench.measure import say
from bench.release import person

VIEW = {"x": 0, "y": 0}
ROOM = 900, 540  # px of the stage at 1280 x 800
QUIET_SECONDS, POINTS, DRAFTS = 80, 12, 6
WALLS = "steps", "looks"
PAGE = 2**20 / os.sysconf("SC_PAGE_SIZE")


class Watched:
    """Samples of what a process holds, in MB, by the second."""

    def __init__(self, process: int):
        self.process, self.held, self.over = process, [], threading.Event()
        threading.Thread(target=self._watch, daemon=True).start()

    def now(self) -> float:
        return int(Path(f"/proc/{self.process}/statm").read_text().split()[1]) / PAGE

    def _watch(self) -> None:
        while not self.over.wait(1):
            self.held.append(self.now())

    def curve(self) -> str:
        """Some of the samples, as evenly apart as they come."""
        step = max(1, len(self.held) // POINTS)
        return " ".join(f"{held:.0f}" for held in self.held[::step])


def report(minutes: float = 4) -> None:
    if not WORLD.exists():
        make_world()
    with tempfile.TemporaryDirectory() as folder:
        server = Server(shutil.copytree(WORLD, Path(folder) / "data"))
        server.start()
        try:
            server.wait()
            _measured(server, minutes)
        finally:
            server.kill()


def _measured(server: Server, minutes: float) -> None:
    someone, watched = person(server.url), Watched(server.process.pid)
    begun, rounds, done = watched.now(), 0, 0
    end = time.monotonic() + minutes * 60
    while time.monotonic() < end:
        for piece in _pieces(someone):
            done += _worked_on(someone, piece, rounds, end)
        rounds += 1
    most, last, curve = max(watched.held), watched.now(), watched.curve()
    time.sleep(QUIET_SECONDS)
    watched.over.set()
    what = f"all pieces worked on for {minutes:g} min, {rounds} times over: held at most"
    say(what, f"{most:.0f} MB", f"{begun:.0f} at the start, {last:.0f} at the end, {done} answers")
    say("  a minute after the last of it", f"{watched.now():.0f} MB")
    say("  its curve, MB", curve)


def _pieces(someone: Person) -> list[str]:
    page = someone.get("/pieces/").decode()
    return sorted(set(re.findall(r"/pieces/([0-9a-f-]{36})/", page)))


def _worked_on(someone: Person, piece: str, turn: int, end: float) -> int:
    """How many answers came."""
    page = someone.get(f"/pieces/{piece}/").decode()
    told = page.split('<script id="snapshot" type="application/json">')[1].split("</script>")[0]
    count = 0
    for ask in _asked(someone, piece, json.loads(told), turn):
        if time.monotonic() > end:
            break
        try:
            ask()
        except urllib.error.HTTPError as error:
            if error.code not in (400, 409, 422):  # a wall that has nothing to try
                raise
        count += 1
    return count


def _asked(someone: Person, piece: str, told: dict, turn: int) -> Iterator:
    document, version = told["document"], told["version"]
    width, height = document["size_px"]
    scale = min(ROOM[0] / width, ROOM[1] / height, 1)
    view = {**VIEW, "width": width, "height": height, "scale": scale}
    sequence = iter(range(turn * 10**5 + 1, 10**9))

    def stage(quality: str, edits: list) -> None:
        asked = {"version": version, "edits": edits, "quality": quality, "view": view}
        asked |= {"bench": "memory", "sequence": next(sequence)}
        body = json.dumps(asked).encode()
        someone._send(f"/pieces/{piece}/stage/", body, "application/json")

    def address(end: str, **asked) -> None:
        someone.get(f"/pieces/{piece}/{end}/?{urllib.parse.urlencode(asked)}")

    yield partial(stage, "draft", [])
    yield partial(stage, "exact", [])
    for item in document["stack"]:
        yield partial(address, "strip", part=item["id"], step="bare")
        way = ["stack", item["id"], "treatment"]
        for step in item["treatment"]:
            if "strength" not in step["landing"]:
                continue
            path = [*way, step["id"], "landing", "strength"]
            for n in range(DRAFTS):
                edit = {"op": "set", "path": path, "value": 0.3 + 0.05 * n + 0.01 * (turn % 5)}
                yield partial(stage, "draft", [edit])
            yield partial(stage, "exact", [edit])
        for kind in WALLS:
            yield partial(address, "tryouts", part=item["id"], path=json.dumps(way), kind=kind)


if __name__ == "__main__":
    report(float((sys.argv[1:] or ["4"])[0]))
