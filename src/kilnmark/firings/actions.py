"""Every change to a firing."""

import threading
from concurrent.futures import ThreadPoolExecutor, wait

from kilncore.document import dump, load
from kilncore.errors import KilnError, Superseded
from kilncore.output.fire import fire
from kilnmark.firings.models import Firing
from kilnmark.pieces.models import Piece
from kilnmark.storage import assets

Stage = Firing.Stage
MOST_WAITING = 20
LOOK_EVERY_SECONDS = 0.25


def ask(piece: Piece, with_ground: bool) -> Firing:
    """Put the piece as it stands in line for the kiln."""
    if piece.owner.firings.filter(stage__in=[Stage.WAITING, Stage.RUNNING]).count() >= MOST_WAITING:
        raise KilnError(f"{MOST_WAITING} firings are waiting already. Let some of them finish first.")
    return Firing.objects.create(owner=piece.owner, piece=piece, title=piece.title, with_ground=with_ground,
                                 document=dump(piece.document))


def stop(firing: Firing) -> None:
    Firing.objects.filter(pk=firing.pk, stage__in=[Stage.WAITING, Stage.RUNNING]).update(stage=Stage.STOPPED)


def take_up_again() -> None:
    """After a killed server: what was in the kiln goes back in line. Firing twice gives the same file."""
    Firing.objects.filter(stage=Stage.RUNNING).update(stage=Stage.WAITING, progress=0)


def next_waiting() -> Firing | None:
    firing = Firing.objects.filter(stage=Stage.WAITING).order_by("asked").first()
    taken = firing and Firing.objects.filter(pk=firing.pk, stage=Stage.WAITING).update(stage=Stage.RUNNING)
    return firing if taken else None


def run(firing: Firing) -> None:
    """Make the file of a firing that was taken. Ends as done, failed or stopped, never half-way."""
    row = Firing.objects.filter(pk=firing.pk)
    try:
        fired = _fired(firing, row)
    except Superseded:
        return
    except KilnError as error:
        row.update(stage=Stage.FAILED, message=f"{error.message} The piece is as it was.")
    except MemoryError:
        row.update(stage=Stage.FAILED, message="There was not enough memory to fire this. The piece is as it was; fire it when less is going on.")
    except Exception:
        row.update(stage=Stage.FAILED, message="The kiln failed. The piece is as it was; fire it again.")
        raise
    else:
        done = {"stage": Stage.DONE, "progress": 1, "seconds": fired.seconds, "bytes": fired.bytes}
        if not row.filter(stage=Stage.RUNNING).update(**done):
            fired.path.unlink(missing_ok=True)


def _fired(firing: Firing, row):
    """Fire in a thread beside, while this one tells the row how far it is and listens for a stop."""
    stopped, shares = threading.Event(), [0.0]
    with ThreadPoolExecutor(1, thread_name_prefix="firing") as beside:
        work = beside.submit(fire, load(firing.document), firing.path, assets(), with_ground=firing.with_ground,
                             progress=shares.append, cancelled=stopped.is_set)
        while not work.done():
            wait([work], timeout=LOOK_EVERY_SECONDS)
            if not row.filter(stage=Stage.RUNNING).update(progress=max(shares)):
                stopped.set()
        return work.result()
