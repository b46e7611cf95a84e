"""A server that is killed at random moments through edits, uploads and firings, again and again, on
one data folder.

What must hold: every change that was answered as saved is there; the history is whole; nothing
half-written stays; a firing that was asked for is made in the end; and the server starts each time.
"""

import contextlib
import http.client
import http.cookiejar
import json
import os
import random
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
import uuid
from pathlib import Path

import numpy as np
from tests.pictures import opened, png

ROOT = Path(__file__).parents[1]
SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 50 50"><circle cx="25" cy="25" r="20"/></svg>'  # noqa: E501


class Server:
    """`kilnmark serve` in a process of its own, on a data folder that outlives it."""

    def __init__(self, data: Path):
        self.env = os.environ | {"KILNMARK_DATA": str(data), "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
        for name in ("KILNMARK_STATIC", "DJANGO_SETTINGS_MODULE"):
            self.env.pop(name, None)
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.url, self.process = f"http://127.0.0.1:{self.port}", None

    def start(self) -> None:
        command = [sys.executable, "-m", "kilnmark.cli", "serve", "--port", str(self.port)]
        self.process = subprocess.Popen(
            command,
            env=self.env,
            cwd=ROOT,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            start_new_session=True,
        )

    def wait(self, seconds: float = 60) -> None:
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            with contextlib.suppress(OSError):
                urllib.request.urlopen(f"{self.url}/account/sign-in/", timeout=2)
                return
            time.sleep(0.1)
        raise AssertionError("the server did not start")

    def kill(self) -> None:
        if self.process is not None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()


class Person:
    """Somebody at work: edits, uploads, firings, each remembered as soon as it is answered."""

    def __init__(self, url: str):
        self.url, self.jar = url, http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self.saved, self.uploads, self.fired = [], set(), []

    def sign_in(self, name: str, password: str) -> None:
        self.opener.open(f"{self.url}/account/sign-in/", timeout=20)
        self._send(
            "/account/sign-in/",
            f"username={name}&password={password}".encode(),
            "application/x-www-form-urlencoded",
        )

    def _send(self, path: str, body: bytes, kind: str) -> bytes:
        token = next(c.value for c in self.jar if c.name == "csrftoken")
        request = urllib.request.Request(
            self.url + path,
            body,
            {"Content-Type": kind, "X-CSRFToken": token, "Accept": "application/json"},
        )
        with self.opener.open(request, timeout=60) as answer:
            return answer.read()

    def post(self, path: str, data: dict) -> dict:
        return json.loads(self._send(path, json.dumps(data).encode(), "application/json"))

    def get(self, path: str) -> bytes:
        with self.opener.open(self.url + path, timeout=60) as answer:
            return answer.read()

    def upload(self, path: str, name: str, data: bytes, fields: dict) -> bytes:
        edge = uuid.uuid4().hex
        parts = [
            f'--{edge}\r\nContent-Disposition: form-data; name="{key}"\r\n\r\n{value}\r\n'.encode()
            for key, value in fields.items()
        ]
        parts.append(
            f'--{edge}\r\nContent-Disposition: form-data; name="file"; '
            f'filename="{name}"\r\n\r\n'.encode()
            + data
            + f"\r\n--{edge}--\r\n".encode()
        )
        return self._send(path, b"".join(parts), f"multipart/form-data; boundary={edge}")

    def document(self, piece: str) -> dict:
        return json.loads(self.get(f"/pieces/{piece}/piece.kilnmark.json"))

    def version(self, piece: str) -> int:
        page = self.get(f"/pieces/{piece}/").decode()
        return json.loads(
            page.split('<script id="snapshot" type="application/json">')[1].split("</script>")[0]
        )["version"]


def work(person: Person, piece: str, chance: random.Random) -> None:
    """One thing after another until the server is gone."""
    version = person.version(piece)
    for _ in range(400):
        what = chance.random()
        if what < 0.7:
            value = round(chance.uniform(72, 600), 3)
            edit = {"op": "set", "path": ["ppi"], "value": value}
            version = person.post(
                f"/pieces/{piece}/change/",
                {
                    "version": version,
                    "edits": [edit],
                    "label": "Resolution",
                    "token": uuid.uuid4().hex,
                },
            )["version"]
            person.saved.append(value)
        elif what < 0.8:
            pixels = np.frombuffer(chance.randbytes(64 * 48), np.uint8).reshape(48, 64)
            name = uuid.uuid4().hex[:12]
            person.upload("/shelf/upload/", f"{name}.png", png(pixels), {})
            person.uploads.add(name)
        elif what < 0.9:
            person.upload(
                f"/pieces/{piece}/svg/",
                "moon.svg",
                SVG,
                {"version": version, "token": uuid.uuid4().hex},
            )
            version = person.version(piece)
        else:
            person.fired.append(person.post(f"/firings/of/{piece}/", {"with_ground": True})["id"])


def one_kill(server: Server, person: Person, piece: str, chance: random.Random) -> None:
    server.start()
    if chance.random() < 0.2:  # in the middle of starting, too
        time.sleep(chance.uniform(0, 2.5))
        server.kill()
        server.start()
    server.wait()
    after = time.monotonic() + chance.uniform(0.05, 3.0)
    killer = subprocess.Popen(
        [
            sys.executable,
            "-c",
            f"import os,signal,time; time.sleep({after - time.monotonic():.3f}); "
            f"os.killpg({server.process.pid}, signal.SIGKILL)",
        ]
    )
    with contextlib.suppress(
        OSError, urllib.error.HTTPError, ValueError, KeyError, IndexError, http.client.HTTPException
    ):
        work(person, piece, chance)
    killer.wait()
    server.kill()


def check(server: Server, person: Person, piece: str, data: Path) -> None:
    """After a last start: all that was answered is there."""
    server.start()
    server.wait()
    shelf = person.get("/shelf/").decode()
    assert all(name in shelf for name in person.uploads), "an upload that was answered is gone"
    version = person.version(piece)
    seen = [person.document(piece)["ppi"]]
    for _ in range(5000):
        try:
            told = person.post(f"/pieces/{piece}/undo/", {"version": version})
        except urllib.error.HTTPError:
            break
        version = told["version"]
        seen.append(told["document"]["ppi"])
    missing = [value for value in person.saved if value not in seen]
    assert not missing, f"{len(missing)} changes that were answered are gone"
    end = time.monotonic() + 120
    for firing in person.fired:
        while (told := json.loads(person.get(f"/firings/{firing}/status/")))["stage"] in (
            "waiting",
            "running",
        ):
            assert time.monotonic() < end, "a firing is never made"
            time.sleep(0.3)
        assert told["stage"] == "done", told
        opened(person.get(f"/firings/{firing}/file/"))
    half = [path for path in data.rglob(".half-*")]
    assert not half, f"half-written files stay: {half}"
    server.kill()


def run(kills: int, seed: int, data: Path, minutes: float = 1e9) -> int:
    """How often it was killed."""
    from tests.browser import world

    chance, server, begun = random.Random(seed), Server(data), time.monotonic()
    piece = subprocess.run(
        [sys.executable, "-m", world.__name__, "small"],
        env=server.env,
        cwd=ROOT,
        check=True,
        capture_output=True,
        text=True,
    ).stdout.split()[-1]
    person, done = Person(server.url), 0
    try:
        server.start()
        server.wait()
        person.sign_in("purser", "night-ferry")
        server.kill()
        while done < kills and time.monotonic() - begun < minutes * 60:
            one_kill(server, person, piece, chance)
            done += 1
        check(server, person, piece, data)
    finally:
        server.kill()
    print(
        f"killed {done} times: {len(person.saved)} changes, {len(person.uploads)} uploads and "
        f"{len(person.fired)} firings were answered, and are there",
        flush=True,
    )
    return done


def kills(minutes: float) -> int:
    """1 if anything was lost."""
    with tempfile.TemporaryDirectory() as folder:
        try:
            run(10_000, int(time.time()), Path(folder) / "data", minutes)
        except AssertionError as error:
            print(f"killed servers: {error}", flush=True)
            return 1
    return 0
