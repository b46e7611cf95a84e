"""The real server in a process of its own, and the real interface in headless Chromium."""

import fcntl
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import expect

ROOT = Path(__file__).parents[2]
PATIENCE_MS = 60_000
expect.set_options(timeout=30_000)  # all workers share two processors


class Server:
    """`kilnmark serve` on a free port, with a data folder that outlives it. piece : in it."""

    def __init__(self, data: Path, piece: str):
        self.env, self.piece = environment(data), piece
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self.start()

    def start(self):
        command = [sys.executable, "-m", "kilnmark.cli", "serve", "--port", str(self.port)]
        self.process = subprocess.Popen(
            command, env=self.env, cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        for _ in range(300):
            try:
                urllib.request.urlopen(f"{self.url}/account/sign-in/", timeout=2)
                return
            except OSError:
                time.sleep(0.2)
        raise RuntimeError("the server did not start")

    def kill(self):
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()


def environment(data: Path) -> dict[str, str]:
    """Of processes on that data folder."""
    env = os.environ | {"KILNMARK_DATA": str(data), "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"}
    return {
        name: value
        for name, value in env.items()
        if name not in ("KILNMARK_STATIC", "DJANGO_SETTINGS_MODULE")
    }


@pytest.fixture(scope="session")
def world(tmp_path_factory) -> tuple[Path, str]:
    """(a data folder, the id of its piece), made once for all that run beside one another."""
    base = tmp_path_factory.getbasetemp()
    base = base.parent if "PYTEST_XDIST_WORKER" in os.environ else base
    data, piece = base / "world", base / "world.piece"
    with (base / "world.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not piece.exists():
            piece.write_text(_made_world(data))
    return data, piece.read_text()


def _made_world(data: Path) -> str:
    made = subprocess.run(
        [sys.executable, "-m", "tests.browser.world"],
        env=environment(data),
        cwd=ROOT,
        check=True,
        capture_output=True,
        text=True,
    )
    return made.stdout.strip().splitlines()[-1]


@pytest.fixture(scope="session")
def server(world, tmp_path_factory):
    made, piece = world
    running = Server(shutil.copytree(made, tmp_path_factory.mktemp("data") / "own"), piece)
    yield running
    running.kill()


@pytest.fixture(scope="session")
def signed_in(server) -> dict:
    """The cookies of a browser that is signed in, as long as that session goes on."""
    return {}


@pytest.fixture(scope="session")
def kept_context(browser, server):
    """One browser's room for all tests of a worker: what it has fetched of the pages stays with it,
    as it does with a user.
    """
    context = _context(browser, server, None)
    yield context
    context.close()


@pytest.fixture
def context(kept_context, server, signed_in):
    """A signed-in browser at the size Kilnmark is made for, with nothing left in it of before."""
    kept_context.clear_cookies()
    kept_context.add_cookies(signed_in.get("cookies", []))
    if not signed_in or "sign-in" in kept_context.request.get("/pieces/").url:
        kept_context.clear_cookies()
        _sign_in(kept_context)
        signed_in["cookies"] = kept_context.cookies()
    yield kept_context
    _emptied(kept_context, server.url)


def _emptied(context, url: str) -> None:
    """Its pages closed, and what they stored forgotten; not what they fetched."""
    context.set_offline(False)
    context.unroute_all(behavior="ignoreErrors")
    last = context.new_page()
    for page in context.pages:
        if page is not last:
            page.unroute_all(behavior="ignoreErrors")
            page.close()
    asked = {"origin": url, "storageTypes": "local_storage,indexeddb,service_workers,cache_storage"}
    context.new_cdp_session(last).send("Storage.clearDataForOrigin", asked)
    last.close()


def _context(browser, server, state):
    context = browser.new_context(
        viewport={"width": 1280, "height": 800},
        base_url=server.url,
        accept_downloads=True,
        storage_state=state,
    )
    context.set_default_timeout(PATIENCE_MS)
    return context


def _sign_in(context) -> None:
    page = context.new_page()
    page.goto("/account/sign-in/")
    page.get_by_label("Name").fill("purser")
    page.get_by_label("Password").fill("night-ferry")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/pieces/")
    page.close()


@pytest.fixture
def page(context):
    """A page that fails the test on any script error or breach of the policy."""
    page, faults = context.new_page(), []
    page.on("pageerror", lambda error: faults.append(str(error)))
    page.on(
        "console",
        lambda m: (
            faults.append(m.text)
            if m.type == "error" and "Failed to load resource" not in m.text
            else None
        ),
    )
    yield page
    page.unroute_all(behavior="ignoreErrors")
    assert not faults, faults


@pytest.fixture
def piece(context, server) -> str:
    """A copy of the piece for one test alone: what a test leaves behind meets no other."""
    context.request.get("/pieces/")
    token = next(one["value"] for one in context.cookies() if one["name"] == "csrftoken")
    copy = context.request.post(
        f"/pieces/{server.piece}/duplicate/",
        form={"csrfmiddlewaretoken": token},
        headers={"Referer": server.url},
    )
    assert copy.ok, copy.status_text
    return copy.url.rstrip("/").rsplit("/", 1)[-1]


@pytest.fixture
def bench(page, piece):
    from tests.browser.driver import Bench

    return Bench(page, piece).open()
