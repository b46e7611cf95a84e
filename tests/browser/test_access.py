"""Every screen and every dialog under axe-core (MPL-2.0, in tests/vendor), with the policy on and
no breach of it.
"""

from pathlib import Path

import pytest
from playwright.sync_api import expect

from kilnmark.demo import ART
from tests.browser.driver import Bench, until
from tests.browser.test_bringing_in import DROP, coded

pytestmark = pytest.mark.browser
AXE = Path(__file__).parents[1] / "vendor" / "axe" / "axe.min.js"
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]


def faults(page) -> list[str]:
    page.evaluate(AXE.read_text())
    found = page.evaluate(
        "(rules) => axe.run(document, { runOnly: rules, resultTypes: ['violations'] })", RULES
    )
    return [
        f"{one['id']}: {one['help']}: {[node['html'][:120] for node in one['nodes']][:4]}"
        for one in found["violations"]
    ]


@pytest.fixture
def watched(context):
    """A page on which breaches of the policy are counted."""
    page = context.new_page()
    page.add_init_script(
        "window.breaches = []; document.addEventListener('securitypolicyviolation', (e) => "
        "window.breaches.push(e.violatedDirective + ' ' + e.blockedURI));"
    )
    return page


@pytest.mark.parametrize(
    "path",
    [
        "/pieces/",
        "/pieces/start/",
        "/pieces/artworks/",
        "/bin/",
        "/shelf/",
        "/shelf/?good-for=fill",
        "/shelf/makers/",
        "/shelf/makers/grunge/",
        "/firings/",
        "/pieces/00000000-0000-0000-0000-000000000000/",
    ],
)
def test_pages(watched, path):
    watched.goto(path)
    watched.wait_for_load_state("networkidle")
    assert faults(watched) == [] and watched.evaluate("window.breaches") == []


def test_the_sheets_of_what_comes_in(watched, piece):
    """A picture with its chain, a drawing with its colours and parts, a gradient."""
    bench = Bench(watched, piece).open()
    kept = bench.told["version"]
    for name in ("badge-on-paper.jpg", "moon-badge.svg"):
        before = bench.told["version"]
        watched.evaluate(DROP, ["#stage", coded((name, (ART / name).read_bytes())), 99, 99])
        told = "Alpine.$data(document.getElementById('bench')).bench().session.version"
        until(watched, f"{told} > {before}")
        bench.settle()
        if name.endswith("jpg"):
            for button in ("Ink from paper", "Crop"):
                watched.locator("#sheet").get_by_role("button", name=button).first.click()
                bench.settle()
            assert faults(watched) == []
        else:
            watched.locator("#sheet .colour-bar .bar-part").first.click()
            watched.locator("#sheet summary").click()
            assert faults(watched) == []
    bench.tab("Ground")
    watched.locator("#sheet").get_by_role("button", name="Gradient", exact=True).click()
    bench.settle()
    assert faults(watched) == [] and watched.evaluate("window.breaches") == []
    while bench.told["version"] > kept and bench.told["undo"] and bench.document["stack"][2:]:
        watched.keyboard.press("Control+z")
        bench.settle()


def test_sign_in(browser, server):
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=server.url)
    page = context.new_page()
    page.goto("/account/sign-in/")
    assert faults(page) == []
    context.close()


@pytest.mark.parametrize("tab", ["Ground", "PELLWICK", "Whole piece"])
def test_the_bench_and_its_sheets(watched, piece, tab):
    bench = Bench(watched, piece).open()
    bench.tab(tab)
    bench.settle()
    assert faults(watched) == []
    for frame in range(watched.locator("#strip .frame").count()):
        watched.locator("#strip .frame").nth(frame).click()
        bench.settle()
        assert faults(watched) == []
    assert watched.evaluate("window.breaches") == []


def test_the_benchs_dialogs(watched, piece):
    bench = Bench(watched, piece).open()
    bench.tab("PELLWICK")
    bench.step("Wear")
    watched.locator("#sheet [data-choose-texture]").first.click()
    expect(watched.locator("#texture-dialog .choice").first).to_be_visible()
    assert faults(watched) == []
    watched.keyboard.press("Escape")
    bench.step("Bare")
    watched.locator("#sheet [data-choose-face]").click()
    expect(watched.locator("#face-dialog .choice").first).to_be_visible()
    assert faults(watched) == []
    watched.keyboard.press("Escape")
    watched.locator("#sheet [data-replace]").click()
    expect(watched.locator("#replace-dialog .choice").first).to_be_visible()
    assert faults(watched) == []
    watched.keyboard.press("Escape")
    watched.locator(".tab[data-mark]").first.click(modifiers=["Shift"])
    watched.locator(".tab[data-mark]").last.click(modifiers=["Shift"])
    assert faults(watched) == []
    for name in ("mark-dialog", "fire-dialog", "keys-dialog", "sign-in-dialog"):
        watched.evaluate(f"document.getElementById('{name}').showModal()")
        assert faults(watched) == [], name
        watched.keyboard.press("Escape")
    watched.get_by_role("button", name="Step", exact=True).click()
    assert faults(watched) == []
    assert watched.evaluate("window.breaches") == []
