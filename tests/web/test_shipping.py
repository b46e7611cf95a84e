"""What ships: licences, colours that can be read, icons that exist, nothing from elsewhere, and a
demo that can be made.
"""

import re
from pathlib import Path

import pytest

from kilncore.typesetting.shipped import FOLDER, FONTS
from kilnmark.demo import ART, _Shelf, textures, world
from kilnmark.pieces.models import Artwork

SOURCE = Path(__file__).parents[2] / "src" / "kilnmark"
TEMPLATES = sorted(SOURCE.rglob("templates/**/*.html"))
THEME = (SOURCE / "static" / "kilnmark" / "theme.css").read_text()


def test_every_font_ships_with_its_licence():
    assert {p.stem for p in FOLDER.glob("*.ttf")} == set(FONTS)
    for name in FONTS:
        assert "SIL Open Font License" in (FOLDER / f"{name}.LICENSE.txt").read_text()


def test_every_vendored_folder_ships_with_a_licence():
    for folder in (SOURCE / "static" / "vendor").iterdir():
        assert list(folder.glob("LICENSE*")), folder


def test_nothing_is_loaded_from_elsewhere():
    own = [
        p
        for kind in ("html", "css", "js")
        for p in SOURCE.rglob(f"*.{kind}")
        if "vendor" not in p.parts
    ]
    assert len(own) > 40
    for path in own:
        for url in re.findall(r"https?://[^\s\"'`)]+", path.read_text()):
            assert url.startswith(("http://www.w3.org/", "http://127.0.0.1")), f"{path}: {url}"


def test_every_icon_is_there():
    names = {
        name for path in TEMPLATES for name in re.findall(r'{% icon "([^"]+)" %}', path.read_text())
    }
    assert len(names) > 15
    for name in names:
        assert (SOURCE / "static" / "vendor" / "icons" / f"{name}.svg").exists(), name


def luminance(hex_colour):
    """WCAG 2.2, relative luminance."""
    channels = [int(hex_colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels]
    return sum(w * c for w, c in zip((0.2126, 0.7152, 0.0722), linear, strict=True))


@pytest.mark.parametrize(
    "text, ground",
    [
        ("ink", "slip"),
        ("ink", "paper"),
        ("quiet", "paper"),
        ("quiet", "slip"),
        ("ember", "paper"),
        ("ember-deep", "paper"),
        ("glaze", "paper"),
        ("glaze", "slip"),
        ("glaze", "glaze-tint"),
        ("amber", "amber-tint"),
    ],
)
def test_text_can_be_read(text, ground):
    """WCAG 2.2 AA, success criterion 1.4.3: 4.5 to 1 for text."""
    colours = dict(re.findall(r"--([a-z-]+): (#[0-9a-f]{6})", THEME))
    light, dark = sorted((luminance(colours[text]), luminance(colours[ground])), reverse=True)
    assert (light + 0.05) / (dark + 0.05) >= 4.5


@pytest.mark.long
@pytest.mark.django_db
def test_the_demo_world_is_made_of_sound_documents(django_user_model, monkeypatch):
    """The same pieces and drawings, with textures of 256 px instead of 2048, drawn small."""
    from kilncore import engine
    from kilnmark import demo
    from kilnmark.recipes import shipped
    from kilnmark.storage import assets

    small = [(name, maker, (256, 256), seed, {}) for name, maker, _, seed, _ in textures.TEXTURES]
    monkeypatch.setattr(demo, "TEXTURES", small)
    monkeypatch.setattr(demo, "draw_all", lambda heads: None)  # they are drawn here
    monkeypatch.setattr(shipped, "SIDE", 256)
    account = demo.set_up()
    user = django_user_model.objects.get(username=account.name)
    assert (
        user.check_password(account.password)
        and user.artworks.count() == len(list(ART.iterdir())) >= 8
    )
    assert user.pieces.count() == len(world.PIECES) + 3  # those of the looks, and the one by hand
    for piece in user.pieces.all():
        picture = engine.render(piece.document, None, 0.1, assets())
        assert picture[..., 3].min() == 1 and picture[..., :3].std() > 0.03
    piece = user.pieces.first()
    piece.delete()
    demo.set_up()
    assert (
        user.pieces.count() == len(world.PIECES) + 2
    )  # what you removed stays removed, what is there stays


def test_demo_pieces_name_only_what_the_demo_has():
    class Register:
        ref = {"hash": "a" * 64, "edges": "repeat"}

    from kilncore.document import load

    shelf = _Shelf(
        {name: Register for name, *_ in textures.TEXTURES},
        {
            p.stem: Artwork(
                hash="b" * 64,
                width=10,
                height=10,
                kind="vector" if p.suffix == ".svg" else "picture",
            )
            for p in ART.iterdir()
        },
    )
    titles = [load(describe(shelf)).title for describe in world.PIECES]
    assert len(set(titles)) == len(titles) >= 5


def test_the_kiln_takes_what_waits(monkeypatch):
    """One thread, and a failing firing does not put it out."""
    import threading

    from kilnmark.firings import kiln

    taken, waiting, empty = [], ["a", "bad", "b"], threading.Event()

    def next_waiting():
        if waiting:
            return waiting.pop(0)
        if len(taken) >= 2:
            empty.set()
        return None

    def run(firing):
        if firing == "bad":
            raise RuntimeError("cracked")
        taken.append(firing)

    monkeypatch.setattr(kiln.firings, "next_waiting", next_waiting)
    monkeypatch.setattr(kiln.firings, "run", run)
    monkeypatch.setattr(kiln.shelf, "next_making", lambda: None)
    monkeypatch.setattr(kiln, "close_old_connections", lambda: None)
    kiln.light()
    kiln.wake()
    assert empty.wait(10) and taken == ["a", "b"]


@pytest.mark.parametrize("name", ["requirements", "requirements-dev"])
def test_what_is_asked_for_is_what_is_locked_with_its_hashes(name):
    """`tools/lock.sh` makes one of the other."""
    root = SOURCE.parents[1]
    asked = re.findall(r"^([\w-]+==\S+)$", (root / f"{name}.in").read_text(), re.M)
    locked = (root / f"{name}.txt").read_text()
    entries = re.findall(r"^([\w-]+==\S+) \\\n    --hash=sha256:[0-9a-f]{64}", locked, re.M)
    assert len(asked) > 5 and {one.lower() for one in asked} <= {one.lower() for one in entries}
    assert len(entries) == len(re.findall(r"^[\w-]+==", locked, re.M))


def test_the_licence_of_every_package_is_listed():
    root = SOURCE.parents[1]
    told = (root / "docs" / "licences.md").read_text().lower().replace("_", "-")
    for name in re.findall(r"^([\w-]+)==", (root / "requirements.txt").read_text(), re.M):
        assert re.search(rf"[|,] {name.lower().replace('_', '-')}[ ,]", told), name
