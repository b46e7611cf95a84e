"""What the bin no longer keeps goes; and so do files that nothing has named for a week.

A file is named by a state of any piece, undone ones and those of binned pieces too, by a firing,
a recipe, kept strokes, and by the row of a texture, an artwork or a font, on the shelf or in the
bin.
"""

import json
import logging
import re
import threading
import time
import zlib
from datetime import timedelta

from django.db import close_old_connections, transaction
from django.utils import timezone

from kilncore.model.files import PATTERN
from kilnmark.bin.models import Unnamed
from kilnmark.faces.models import Font
from kilnmark.firings.models import Firing
from kilnmark.pieces.models import Artwork, Piece, State, StrokeFile
from kilnmark.pins.models import Pin
from kilnmark.preps.models import Prep
from kilnmark.recipes.models import Recipe
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets
from kilnmark.tips.models import StrokeSet, Tip

UNNAMED_FOR = timedelta(days=7)
FRESH_SECONDS = 3600  # a file that was written just now may be named any moment
EVERY_SECONDS = 6 * 3600
FIRST_SECONDS = 120
NAME = re.compile(rb"[0-9a-f]{64}")
WHOLE_NAME = re.compile(PATTERN)
ROWS = (Texture, Artwork, Font)
log = logging.getLogger("kilnmark")


def sweep() -> tuple[int, int]:
    """(rows, files) that went."""
    rows = _purge()
    files = 0
    with transaction.atomic():  # nobody names anything meanwhile
        unnamed = _unnamed()
        Unnamed.objects.exclude(hash__in=unnamed).delete()
        known = set(Unnamed.objects.values_list("hash", flat=True))
        Unnamed.objects.bulk_create([Unnamed(hash=name) for name in unnamed - known])
        over = Unnamed.objects.filter(since__lt=timezone.now() - UNNAMED_FOR)
        for row in over:
            path = assets().path(row.hash)
            if path.exists() and time.time() - path.stat().st_mtime < FRESH_SECONDS:
                continue
            path.unlink(missing_ok=True)
            files += 1
            StrokeFile.objects.filter(hash=row.hash).delete()
            row.delete()
    return rows, files


def _purge() -> int:
    """Rows whose time in the bin is over. What a state names keeps its row: the piece needs it."""
    alone = (Piece, Prep, Pin, Recipe, Tip, StrokeSet)
    count = sum(rows.objects.over().delete()[0] for rows in alone)
    named = {name.decode() for name in _named_by_documents()}
    for rows in ROWS:
        over = [row.pk for row in rows.objects.over() if row.hash not in named]
        count += rows.objects.filter(pk__in=over).delete()[0]
    return count


def _unnamed() -> set[str]:
    named = {name.decode() for name in _named_by_documents()}
    for rows in ROWS:
        named |= set(rows.objects.values_list("hash", flat=True))
    there = {path.name for path in assets().folder.glob("??/*") if WHOLE_NAME.match(path.name)}
    return there - named


def _named_by_documents() -> set[bytes]:
    found: set[bytes] = set()
    for compressed in State.objects.values_list("compressed", flat=True).iterator(200):
        try:
            found.update(NAME.findall(zlib.decompress(compressed)))
        except zlib.error:
            continue  # a damaged one names nothing that could be read
    for stored in Recipe.objects.values_list("stored", flat=True).iterator(200):
        found.update(NAME.findall(json.dumps(stored).encode()))
    for files in StrokeSet.objects.values_list("files", flat=True).iterator(200):
        found.update(NAME.findall(json.dumps(files).encode()))
    for document in Firing.objects.values_list("document", flat=True).iterator(200):
        found.update(NAME.findall(str(document).encode()))
    return found


def begin() -> None:
    """Sweep now and then, as long as the server runs."""
    threading.Thread(target=_go_on, name="sweep", daemon=True).start()


def _go_on() -> None:
    time.sleep(FIRST_SECONDS)
    while True:
        try:
            rows, files = sweep()
            if rows or files:
                log.info("the bin let go of %d rows and %d files", rows, files)
        except Exception:
            log.exception("sweeping failed; nothing was lost")
        finally:
            close_old_connections()
        time.sleep(EVERY_SECONDS)
