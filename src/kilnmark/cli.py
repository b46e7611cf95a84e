"""The command line: `kilnmark demo | serve | account | fire | compile`."""

import argparse
import os
import sys
import uuid
from pathlib import Path

from kilncore.errors import KilnError


def main(arguments: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(
        prog="kilnmark", description="Grain, grunge and surface for finished artwork."
    )
    commands = parser.add_subparsers(dest="command", required=True)
    for name, text in (
        ("demo", "set up the demo world, if it is not there yet, and serve it"),
        ("serve", "serve what is there"),
    ):
        command = commands.add_parser(name, help=text)
        command.add_argument("--port", type=int, default=8421)
        command.add_argument("--host", default="127.0.0.1")
    command = commands.add_parser("fire", help="make the full-size file of a piece")
    command.add_argument("piece", help="the piece's document file, or its id")
    command.add_argument("-o", "--output", required=True, type=Path, help="the file to write")
    command.add_argument(
        "--format", default="png", help="png, png16, jpeg, webp or tiff (default: png)"
    )
    command.add_argument(
        "--content", default="piece", help="piece, or marks: a zip of each alone (default: piece)"
    )
    command.add_argument("--no-ground", action="store_true", help="leave the ground transparent")
    command.add_argument(
        "--assets",
        type=Path,
        help="folder of the files a document names (default: this Kilnmark's own)",
    )
    command = commands.add_parser("account", help="make an account, or give it a new password")
    command.add_argument("name")
    commands.add_parser("compile", help="compile the kernels")
    asked = parser.parse_args(arguments)
    try:
        return COMMANDS[asked.command](asked) or 0
    except KilnError as error:
        print(
            f"kilnmark: {error.message}", *filter(None, [error.detail]), sep="\n  ", file=sys.stderr
        )
        return 2
    except KeyboardInterrupt:
        return 0


def _django() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "kilnmark.settings")
    import django

    django.setup()


def _fire(asked) -> None:
    _django()
    from kilncore.assets import AssetStore
    from kilncore.output.fire import fire
    from kilnmark.storage import assets

    store = AssetStore(asked.assets) if asked.assets else assets()
    fired = fire(
        _document(asked.piece),
        asked.output,
        store,
        with_ground=not asked.no_ground,
        file_format=asked.format,
        content=asked.content,
    )
    print(
        f"Fired {fired.path}: {fired.width} x {fired.height} px, {fired.nbytes / 1e6:.1f} MB, "
        f"{fired.seconds:.1f} s"
    )


def _document(name: str):
    """The document of a file, or of a stored piece by its id."""
    from kilncore.document import load
    from kilnmark.pieces.models import Piece

    if Path(name).is_file():
        return load(Path(name).read_bytes())
    try:
        return Piece.objects.select_related("head").get(pk=uuid.UUID(name)).document
    except (ValueError, Piece.DoesNotExist):
        raise KilnError(
            "There is no piece of that id, and no document file of that name.", name
        ) from None


def _account(asked) -> None:
    _django()
    from getpass import getpass

    from kilnmark.accounts.actions import set_password
    from kilnmark.server import prepare

    prepare()
    fresh = set_password(asked.name, getpass(f"Password for {asked.name}: "))
    print(f"{'Made' if fresh else 'Changed'} the account {asked.name!r}.")


def _compile(asked) -> None:
    from kilncore.warm_up import warm_up

    seconds = warm_up(makers_too=True)
    print(f"Kernels ready ({seconds:.0f} s)")


def _serve(asked) -> None:
    _django()
    from kilnmark.server import prepare, serve

    prepare()
    serve(asked.host, asked.port)


def _demo(asked) -> None:
    _django()
    from kilnmark.demo import set_up
    from kilnmark.server import prepare, serve

    prepare()
    account = set_up()
    serve(
        asked.host,
        asked.port,
        f"Sign in as {account.name!r} with the password {account.password!r}.",
    )


COMMANDS = {"account": _account, "fire": _fire, "compile": _compile, "serve": _serve, "demo": _demo}

if __name__ == "__main__":
    sys.exit(main())
