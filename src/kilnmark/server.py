"""The server: one process, many threads that only wait, two that draw, and one kiln."""

import logging
import threading

import waitress
from django.core.management import call_command

from kilncore.errors import KilnError
from kilncore.warm_up import warm_up
from kilnmark.firings import kiln

THREADS = 16
MAX_BODY = 100 * 2**20


def prepare() -> None:
    """Bring the database and the static files up to date."""
    call_command("migrate", verbosity=0, interactive=False)
    call_command("collectstatic", verbosity=0, interactive=False)


def serve(host: str, port: int, greeting: str = "") -> None:
    """Serve until stopped."""
    from kilnmark.wsgi import application

    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    try:
        server = waitress.create_server(application, host=host, port=port, threads=THREADS, max_request_body_size=MAX_BODY,
                                        ident="Kilnmark")
    except OSError as error:
        raise KilnError(f"Port {port} cannot be used. Take another: make demo PORT=9000.", str(error)) from error
    threading.Thread(target=warm_up, name="warm-up", daemon=True).start()
    kiln.light()
    print(f"Kilnmark is at http://{host}:{port}/", *filter(None, [greeting]), "Stop it with Ctrl+C.", sep="\n", flush=True)
    server.run()
