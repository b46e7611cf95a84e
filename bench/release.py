"""From letting go of a slider to the last picture of the strip, over HTTP: 5 marks with 12 steps
each; and twenty people at once.

`python -m bench.release URL` measures a server that is running (the demo's account); `make bench`
starts one of its own.
"""

import json
import os
import random
import re
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
from pathlib import Path

import numpy as np
import pyvips
from fuzz.killing import Person, Server

from bench.measure import ms, p95, say

ROOT = Path(__file__).parents[1]
STEPS = (
    "wear",
    "follow",
    "soften",
    "coat",
    "coat",
    "wear",
    "coat",
    "grain",
    "soften",
    "coat",
    "wear",
    "grain",
)
VIEW = {"x": 0, "y": 0, "width": 1280, "height": 800, "scale": 0.7}
PEOPLE, ROUNDS = 20, 2


class Bench:
    """A person with a piece of five marks, as the bench's scripts go about it."""

    def __init__(self, person: Person, number: int = 0):
        self.person, self.sequence, self.number = person, 0, number

    def start(self, marks: int = 5, steps=STEPS) -> "Bench":
        fields = (
            f"title=Release {self.number}&width=1280&height=800&unit=px&ppi=300&ground=colour"
        ).replace(" ", "+")
        self.person._send("/pieces/start/", fields.encode(), "application/x-www-form-urlencoded")
        self.piece = re.search(r"/pieces/([0-9a-f-]{36})/", self.person.get("/pieces/").decode())[1]
        self.told = self._told()
        for n in range(marks):
            art = {"kind": "lettering", "text": "PELLWICK", "font": "anton", "size": {"value": 130}}
            self.change(
                [
                    {
                        "op": "add_mark",
                        "mark": {
                            "id": f"mark-{n}",
                            "art": art,
                            "placement": {"x": {"value": 640}, "y": {"value": 90 + 150 * n}},
                        },
                    }
                ]
            )
            self.change([{"op": "add_step", "part": f"mark-{n}", "kind": kind} for kind in steps])
        self.last = f"mark-{marks - 1}"
        return self

    def _told(self) -> dict:
        page = self.person.get(f"/pieces/{self.piece}/").decode()
        return json.loads(
            page.split('<script id="snapshot" type="application/json">')[1].split("</script>")[0]
        )

    def change(self, edits) -> None:
        self.told = self.person.post(
            f"/pieces/{self.piece}/change/",
            {"version": self.told["version"], "edits": edits, "label": "Changed"},
        )

    def edit(self, value: float) -> list:
        step = self.told["document"]["stack"][-1]["treatment"][0]["id"]
        return [
            {
                "op": "set",
                "path": ["stack", self.last, "treatment", step, "params", "black"],
                "value": value,
            }
        ]

    def stage(self, quality: str, edits=(), scale: float = VIEW["scale"]) -> float:
        self.sequence += 1
        asked = {
            "version": self.told["version"],
            "edits": list(edits),
            "quality": quality,
            "view": {**VIEW, "scale": scale},
            "bench": f"b{self.number}",
            "sequence": self.sequence,
        }
        begun = time.monotonic()
        try:
            self.person._send(
                f"/pieces/{self.piece}/stage/", json.dumps(asked).encode(), "application/json"
            )
        except urllib.error.HTTPError as error:
            if error.code != 409:
                raise
        return time.monotonic() - begun

    def strip(self) -> None:
        page = self.person.get(f"/pieces/{self.piece}/strip/?part={self.last}&step=bare").decode()
        threads = [
            threading.Thread(target=self.person.get, args=(address,))
            for address in re.findall(r'<img src="([^"]+)"', page)
        ]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()

    def release(self, value: float) -> float:
        """Seconds: the change, then at once the sheet, the exact picture and the strip."""
        begun = time.monotonic()
        self.change(self.edit(value))
        step = self.told["document"]["stack"][-1]["treatment"][0]["id"]
        beside = [
            threading.Thread(
                target=self.person.get,
                args=(f"/pieces/{self.piece}/sheet/?part={self.last}&step={step}",),
            ),
            threading.Thread(target=self.stage, args=("exact",)),
        ]
        for thread in beside:
            thread.start()
        self.strip()
        found = time.monotonic() - begun
        for thread in beside:
            thread.join()
        return found


def person(url: str) -> Person:
    one = Person(url)
    one.sign_in("purser", "night-ferry")
    return one


def released(url: str) -> None:
    bench = Bench(person(url)).start()
    bench.release(0.2)
    found = sorted(bench.release(0.21 + 0.01 * n) for n in range(7))
    say(
        "5 marks x 12 steps: from letting go to the last strip picture",
        ms(found[3]),
        f"the slowest of 7 {ms(found[-1])}",
    )


def laden(url: str) -> None:
    """The same beside two who bring in scans of 24 megapixels, one after the other, and a firing of
    24 megapixels.
    """
    over, brought = threading.Event(), []

    def bring(n: int) -> None:
        one, chance = person(url), np.random.default_rng(n)
        coarse = pyvips.Image.new_from_array(chance.integers(40, 220, (400, 600), np.uint8))
        scan = coarse.resize(10).cast("uchar").bandjoin_const([90, 80]).copy(interpretation="srgb")
        while not over.is_set():
            data = scan.linear(1, len(brought) % 7 + 3 * n).cast("uchar").jpegsave_buffer(Q=85)
            one.upload("/shelf/bring-in/", f"scan {n} {len(brought)}.jpg", data, {})
            brought.append(len(data))

    beside = [threading.Thread(target=bring, args=(n,)) for n in (1, 2)]
    large = Bench(person(url), 99).start(2, STEPS[:4])
    large.change([{"op": "scale_piece", "width": 6200}])
    large.person.post(f"/firings/of/{large.piece}/", {"with_ground": True})
    for one in beside:
        one.start()
    crowded(url, told="20 people beside uploads of 24 megapixels and a firing")
    over.set()
    for one in beside:
        one.join()
    say("scans of 24 megapixels that came in meanwhile", str(len(brought)))


def crowded(url: str, people: int = PEOPLE, told: str = "") -> None:
    """Everybody drags for 1.5 s, lets go, and looks at the exact picture and the strip, at moments
    of their own.
    """
    benches, drafts, faults = (
        [Bench(person(url), n).start(3, STEPS[:4]) for n in range(people)],
        [],
        [],
    )

    def work(bench: Bench) -> None:
        chance = random.Random(bench.number)
        try:
            time.sleep(chance.uniform(0, 3))
            for turn in range(ROUNDS):
                end, n = time.monotonic() + 1.5, 0
                while time.monotonic() < end:
                    drafts.append(bench.stage("draft", bench.edit(0.2 + 0.001 * n + 0.05 * turn)))
                    n += 1
                bench.release(0.3 + 0.01 * turn)
                time.sleep(chance.uniform(1, 3))
        except Exception as error:
            faults.append(repr(error))

    threads = [threading.Thread(target=work, args=(bench,)) for bench in benches]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    drafts.sort()
    say(
        f"{told or f'{people} people at once'}: a draft",
        ms(drafts[len(drafts) // 2]),
        f"p95 {ms(p95(drafts))}, {len(drafts)} drafts, {len(faults)} errors {faults[:1] or ''}",
    )


def report(*more) -> None:
    """more : what else to measure of the same server, by its URL."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder))
        subprocess.run(
            [sys.executable, "-m", "tests.browser.world"],
            env=server.env,
            cwd=ROOT,
            check=True,
            capture_output=True,
        )
        server.start()
        try:
            server.wait()
            for measured in (released, *more, crowded, laden):
                measured(server.url)
        finally:
            server.kill()


if __name__ == "__main__":
    os.environ.setdefault("PYTHONPATH", str(ROOT))
    released(sys.argv[1])
    crowded(sys.argv[1])
    laden(sys.argv[1])
