"""What is on the stage comes first: small pictures of a piece wait a moment while it is drawn."""

import threading
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager

LET_BY = 2.0  # seconds, at most
_drawing: Counter = Counter()
_over = threading.Condition()


@contextmanager
def shown_first(piece_id) -> Iterator[None]:
    """While a picture of the stage is drawn."""
    with _over:
        _drawing[piece_id] += 1
    try:
        yield
    finally:
        with _over:
            _drawing[piece_id] -= 1
            if not _drawing[piece_id]:
                del _drawing[piece_id]
            _over.notify_all()


def let_by(piece_id, seconds: float = LET_BY) -> None:
    """Wait until no picture of a piece's stage is drawn, or not much longer."""
    with _over:
        _over.wait_for(lambda: piece_id not in _drawing, seconds)
