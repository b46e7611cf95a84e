"""Run by the fixture, in the server's own data folder: an account, four small made textures and one
piece.
"""

import os
import sys

os.environ["DJANGO_SETTINGS_MODULE"] = "kilnmark.settings"

import django  # noqa: E402

django.setup()

from django.contrib.auth import get_user_model  # noqa: E402

from kilnmark.demo import ART  # noqa: E402
from kilnmark.pieces import actions, bringing  # noqa: E402
from kilnmark.server import prepare  # noqa: E402
from kilnmark.shelf import actions as shelf  # noqa: E402
from tests.documents import lettering, mark, piece, px, step  # noqa: E402


def main() -> None:
    prepare()
    user = get_user_model().objects.create_user("purser", password="night-ferry")
    if sys.argv[1:] == ["small"]:
        print(actions.start(user, piece(mark(lettering("PELLWICK", 60)), size=(400, 300))).pk)
        return
    made = {
        name: shelf.make(user, name, name.title(), 512, 512, 3, {})
        for name in ("grunge", "concrete", "paper", "planks")
    }
    cup = bringing.bring_in(user, "cup.svg", (ART / "cup.svg").read_bytes())
    grunge = {"hash": made["grunge"].hash, "edges": "repeat"}
    words = mark(
        lettering("PELLWICK", 150, "#efe8d6"),
        500,
        420,
        [
            step("wear", texture=grunge),
            step("soften", radius=px(1)),
            step("follow", across=px(6), down=px(6)),
        ],
    )
    drawing = mark(
        {"kind": "vector", "hash": cup.hash, "width": cup.width, "height": cup.height},
        250,
        180,
        scale=2,
    )
    ground = {"kind": "texture", "texture": {"hash": made["planks"].hash, "edges": "repeat"}}
    print(actions.start(user, piece(words, drawing, ground=ground, size=(1000, 700))).pk)


if __name__ == "__main__":
    sys.exit(main())
