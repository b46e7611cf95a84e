"""Chromium as the other implementation: HTML, CSS and SVG drawn there, and the pixels read back."""

import base64
import io

import numpy as np
import pytest
from PIL import Image

from tests.pictures import png

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--force-color-profile=srgb",
]
EXECUTABLE = "/usr/bin/chromium-headless-shell"


@pytest.fixture
def drawn(browser):
    """drawn(html, width, height): premultiplied (H, W, 4) float of a page on a transparent
    background.
    """
    page = browser.new_page()

    def draw(html: str, width: int, height: int) -> np.ndarray:
        page.set_viewport_size({"width": width, "height": height})
        page.set_content(
            f"<style>*{{margin:0}}body{{background:transparent}}img,svg{{position:absolute;left:0;top:0}}</style>{html}"
        )
        page.evaluate("Promise.all([...document.images].map(i => i.decode()))")
        shot = page.screenshot(omit_background=True)
        image = np.asarray(Image.open(io.BytesIO(shot)).convert("RGBA"), np.float32) / 255
        image[..., :3] *= image[..., 3:]
        return image

    yield draw
    page.close()


def data_url(pixels: np.ndarray) -> str:
    return "data:image/png;base64," + base64.b64encode(png(pixels)).decode()


def premultiplied(image: np.ndarray) -> np.ndarray:
    return np.dstack([image[..., :3] * image[..., 3:], image[..., 3]])
