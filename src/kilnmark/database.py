"""What stops a write: a disk that is full, a database that somebody else holds. Told apart, in
words.
"""

import errno

from django.db import OperationalError

FULL = (
    "The disk is full, so this could not be stored. Nothing that was stored before is lost. "
    "Make room on it; then this goes on."
)
HELD = (
    "The database is held by another program just now. Nothing is lost: what you did waits, "
    "and goes on when it is free."
)


TOO_MANY = (
    "Kilnmark has as many files open as this machine lets it. Nothing is lost: what you did "
    "waits, and goes on when some of them are closed."
)
READ_ONLY = (
    "The database can only be read: its file, its folder or its disk is write-protected. Nothing "
    "that was stored before is lost. Make it writable; then this goes on."
)


def trouble(error: BaseException) -> tuple[str, int] | None:
    """(words, HTTP status) for an error that passes when there is room or the database is free
    again; None for any other.
    """
    if isinstance(error, OSError) and error.errno in (errno.ENOSPC, errno.EDQUOT, errno.EFBIG):
        return FULL, 507
    if isinstance(error, OSError) and error.errno in (errno.EMFILE, errno.ENFILE):
        return TOO_MANY, 503
    if isinstance(error, OSError) and error.errno in (errno.EROFS, errno.EACCES, errno.EPERM):
        return READ_ONLY, 507
    if isinstance(error, OperationalError):
        text = str(error)
        if "readonly" in text or "read-only" in text:
            return READ_ONLY, 507
        if "full" in text or "disk I/O" in text or "unable to open" in text:
            return FULL, 507
        if "locked" in text or "busy" in text:
            return HELD, 503
    return None
