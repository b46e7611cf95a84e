"""The server: one process, many threads that only wait, as many that draw as there are processors,
and one kiln.
"""

import ipaddress
import logging
import os
import resource
import shutil
import subprocess
import sys
import threading
import time
from contextlib import suppress
from pathlib import Path

import waitress
from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management import call_command

from kilncore.errors import KilnError
from kilncore.system.files import HALF
from kilncore.warm_up import warm_up
from kilnmark import data_folder, idling
from kilnmark.bin import sweeping
from kilnmark.firings import kiln

THREADS = 16
CONNECTIONS = 2000  # idle ones cost next to nothing
IDLE_SECONDS = 60
MAX_BODY = 100 * 2**20
FILES_OPEN = 16_384
OLD_SECONDS = 7 * 24 * 3600
log = logging.getLogger("kilnmark")


def open_files() -> None:
    """As many files at once as the machine lets a program have."""
    _, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = FILES_OPEN if most == resource.RLIM_INFINITY else min(most, FILES_OPEN)
    with suppress(OSError, ValueError):
        resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, most))


def prepare() -> None:
    """Bring the database and the static files up to date; remove what killed processes left
    half-written.
    """
    call_command("migrate", verbosity=0, interactive=False)
    collect_static(Path(settings.STATIC_ROOT))
    if swept := data_folder.tidy(settings.DATA):
        log.info("removed %d half-written files of processes that were killed", swept)


def collect_static(target: Path) -> None:
    """All static files, whole or not at all: collected beside the target, which is named after what
    is in it, and renamed.
    """
    target.parent.mkdir(parents=True, exist_ok=True)
    if not target.exists():
        half = target.parent / f"{HALF}{os.getpid()}"
        env = os.environ | {
            "KILNMARK_STATIC_ROOT": str(half),
            "DJANGO_SETTINGS_MODULE": os.environ.get("DJANGO_SETTINGS_MODULE", "kilnmark.settings"),
        }
        try:
            subprocess.run(
                [sys.executable, "-m", "django", "collectstatic", "--no-input", "-v0"],
                env=env,
                check=True,
            )
            os.rename(half, target)
        except OSError:
            if not target.exists():  # another server may have been quicker
                raise
        except subprocess.CalledProcessError as error:
            raise KilnError(
                "The files of the interface could not be set up. Is the disk full?", str(error)
            ) from error
        finally:
            shutil.rmtree(half, ignore_errors=True)
    os.utime(target)
    for other in target.parent.iterdir():
        if other != target and _given_up(other):
            shutil.rmtree(other, ignore_errors=True) if other.is_dir() else other.unlink(
                missing_ok=True
            )


def _given_up(folder: Path) -> bool:
    """Half-collected by a process that is no more, or of an older version and not used
    for a week.
    """
    if folder.name.startswith(HALF):
        return not Path(f"/proc/{folder.name.removeprefix(HALF)}").exists()
    return time.time() - folder.stat().st_mtime > OLD_SECONDS


def check_open_to_others(host: str) -> None:
    """KilnError unless all is set for a server that others reach."""
    if _loopback(host):
        return
    missing = []
    if "KILNMARK_HOSTS" not in os.environ:
        missing.append(
            "KILNMARK_HOSTS, the names under which it is reached, with commas between them"
        )
    if not settings.HTTPS:
        missing.append(
            "KILNMARK_HTTPS=1, once a server in front of it speaks HTTPS: passwords and "
            "cookies must not go in the clear"
        )
    if missing:
        raise KilnError(
            f"To be reached from other machines ({host}), Kilnmark needs: "
            + "; and ".join(missing)
            + "."
        )
    from kilnmark.demo import NAME, PASSWORD

    user = get_user_model().objects.filter(username=NAME).first()
    if user is not None and user.check_password(PASSWORD):
        raise KilnError(
            f"The demo's account {NAME!r} still has its published password. Give it another "
            f"first: kilnmark account {NAME}."
        )


def _loopback(host: str) -> bool:
    try:
        return host == "localhost" or ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return False


def serve(host: str, port: int, greeting: str = "") -> None:
    """Serve until stopped."""
    check_open_to_others(host)
    open_files()
    from kilnmark.wsgi import application

    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    try:
        server = waitress.create_server(
            application,
            host=host,
            port=port,
            threads=THREADS,
            max_request_body_size=MAX_BODY,
            ident="Kilnmark",
            connection_limit=CONNECTIONS,
            channel_timeout=IDLE_SECONDS,
            cleanup_interval=10,
            asyncore_use_poll=True,
            backlog=1024,
        )
    except OSError as error:
        raise KilnError(
            f"Port {port} cannot be used. Take another: make demo PORT=9000.", str(error)
        ) from error
    threading.Thread(target=warm_up, name="warm-up", daemon=True).start()
    kiln.light()
    sweeping.begin()
    idling.start()
    print(
        f"Kilnmark is at http://{host}:{port}/",
        *filter(None, [greeting]),
        "Stop it with Ctrl+C.",
        sep="\n",
        flush=True,
    )
    server.run()
