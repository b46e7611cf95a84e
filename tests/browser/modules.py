"""Scripts by themselves, in a page without a server: the modules are given from disk."""

from pathlib import Path

SOURCE = Path(__file__).parents[2] / "src" / "kilnmark"
HOST = "http://kiln.test"


class Modules:
    """A page in which modules stand under names of one's own. paths : by name, below /static/."""

    def __init__(self, browser, **paths: str):
        self.page = browser.new_page()
        self.page.route(f"{HOST}/static/**", self._give)
        self.page.route(f"{HOST}/page", lambda route: route.fulfill(body="<html></html>"))
        self.page.goto(f"{HOST}/page")
        self.page.evaluate(
            """async (paths) => {
            for (const [name, path] of Object.entries(paths))
                window[name] = await import(`/static/${path}`);
            }""",
            paths,
        )

    @staticmethod
    def _give(route):
        name = route.request.url.removeprefix(f"{HOST}/static/")
        (path,) = (p for root in SOURCE.rglob("static") if (p := root / name).is_file())
        route.fulfill(path=path, content_type="text/javascript")

    def run(self, body: str, *values):
        """What the body of an async function of a, b and c gives."""
        asked = f"async (values) => {{ const [a, b, c] = values; {body} }}"
        return self.page.evaluate(asked, list(values))

    def close(self) -> None:
        self.page.close()
