"""The bench as a person uses it."""

import io
import re
import time
from contextlib import suppress

import numpy as np
from PIL import Image
from playwright.sync_api import Error, expect


def until(page, expression: str, seconds: float = 60) -> None:
    """Wait until it is true. Playwright's own wait evaluates a string in the page, which the policy
    forbids.
    """
    end = time.monotonic() + seconds
    while not page.evaluate(expression):
        assert time.monotonic() < end, f"never true: {expression}"
        page.wait_for_timeout(50)


def late(page, milliseconds: int, what="**/change/") -> None:
    """Answers come so much later, until unrouted. A page may be gone before its last one."""

    def wait(route):
        with suppress(Error):
            page.wait_for_timeout(milliseconds)
            route.continue_()

    page.route(what, wait)


class Bench:
    def __init__(self, page, piece):
        self.page, self.piece = page, piece

    def open(self, piece=None):
        self.page.goto(f"/pieces/{piece or self.piece}/")
        self.settle()
        return self

    def settle(self):
        """Wait until all is saved and the exact picture of it is shown."""
        expect(self.page.locator(".saved")).to_have_text(re.compile(r"saved \d"))
        until(
            self.page,
            """() => {
            const { quality, version } = document.getElementById('stage').dataset;
            const { session } = Alpine.$data(document.getElementById('bench')).bench();
            return quality === 'exact' && Number(version) === session.version
        }""",
        )
        expect(self.page.locator("#strip .frame").first).to_be_visible()

    @property
    def url(self) -> str:
        """Of the open piece."""
        return self.page.url

    @property
    def csrf(self) -> str:
        return next(
            one["value"] for one in self.page.context.cookies() if one["name"] == "csrftoken"
        )

    @property
    def told(self) -> dict:
        return self.page.evaluate(
            "Alpine.$data(document.getElementById('bench')).bench().session.snapshot"
        )

    @property
    def document(self) -> dict:
        return self.told["document"]

    def mark(self, name) -> dict:
        return next(
            m for m in self.document["stack"] if name in (m["name"], m.get("art", {}).get("text"))
        )

    def picture(self) -> np.ndarray:
        """The pixels of the canvas."""
        url = self.page.evaluate("document.getElementById('picture').toDataURL()")
        import base64

        return np.asarray(
            Image.open(io.BytesIO(base64.b64decode(url.split(",")[1]))).convert("RGB"), np.float32
        )

    def change(self, *edits: dict) -> None:
        """Made as the bench's own controls make changes, without their clicks."""
        self.page.evaluate(
            """(edits) => Alpine.$data(document.getElementById('bench')).bench().session
            .change(edits, 'Changed', { reload: true })""",
            list(edits),
        )
        self.settle()

    def tab(self, name):
        self.page.get_by_role("tab", name=name, exact=True).click()
        expect(self.page.get_by_role("tab", name=name, exact=True)).to_have_attribute(
            "aria-selected", "true"
        )
        expect(self.page.locator("#strip .frames[aria-busy]")).to_have_count(0)

    def add(self, title):
        """A new mark of a kind that begins with its defaults, chosen, with no look."""
        self.page.locator("[data-add-mark]").click()
        self.page.get_by_role("button", name=title, exact=True).click()
        expect(self.page.locator("#sheet h2")).to_have_text(title)
        self.page.keyboard.press("Escape")
        self.settle()
        return self

    def step(self, title):
        frame = self.page.locator(
            "#strip .frame", has=self.page.locator("b", has_text=re.compile(f"^{title}$"))
        ).first
        frame.click()
        names = {"Bare": "Lettering|Vector art", "On the piece": "How it lands"}
        expect(self.page.locator("#sheet h2")).to_have_text(re.compile(names.get(title, title)))

    def titles(self) -> list[str]:
        return self.page.locator("#strip .frame b").all_text_contents()

    def at(self, x, y) -> tuple[float, float]:
        """A point of the piece, in page px."""
        left, top = self.page.evaluate(
            "([x, y]) => "
            "Alpine.$data(document.getElementById('bench')).bench().stage.view.toStage(x, y)",
            [x, y],
        )
        box = self.page.locator("#stage").bounding_box()
        return box["x"] + left, box["y"] + top

    def drag(self, start, end, pause=None):
        self.page.mouse.move(*start)
        self.page.mouse.down()
        for share in (0.3, 0.6, 1.0):
            self.page.mouse.move(*(a + (b - a) * share for a, b in zip(start, end, strict=True)))
        if pause:
            pause()
        self.page.mouse.up()

    def back_to(self, document: dict) -> None:
        """Undo until the piece is as it was."""
        for _ in range(40):
            if self.document == document:
                return
            assert self.told["undo"], "nothing left to undo, and the piece is not as it was"
            self.page.keyboard.press("Control+z")
            self.settle()
