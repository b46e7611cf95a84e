"""What is done of a piece while nothing moves on it: exact pictures of the stage are kept on disk,
and a draft is got ready for the hand that comes next.
"""

import threading
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from kilncore import engine
from kilncore.document import Piece
from kilncore.engine import pool
from kilncore.engine.draft_textures import with_draft_textures
from kilncore.engine.plan import Point
from kilncore.engine.plans import plan_of
from kilncore.engine.recall import Recall
from kilncore.errors import KilnError, Superseded
from kilncore.graph.keys import key_of
from kilncore.model.files import files_in
from kilncore.system.code_version import code_version
from kilnmark.kept_pictures import KeptPictures
from kilnmark.storage import assets, folder_for

BUDGET = 400 * 2**20  # bytes on disk
DRAWN_BY = code_version(Path(__file__).parent)
Area = tuple[float, float, float, float]  # x, y, width, height in document px
_READYING = threading.Semaphore(1)


@dataclass(frozen=True)
class View:
    region: Area
    scale: float


@cache
def exact_pictures() -> KeptPictures:
    """Of the stage, by `key_of_exact`."""
    return KeptPictures(folder_for("exact"), BUDGET)


def key_of_exact(owner: int, piece: Piece, view: View, point: Point | None) -> str | None:
    """The same as long as the picture is; None while a file is missing, which must be told."""
    store = assets()
    if not all(store.path(name).exists() for name in files_in(piece)):
        return None
    plan = plan_of(piece)
    node = plan.finished().node if point is None else plan.up_to(point).node
    return key_of("stage", owner, node.key, view.region, view.scale, DRAWN_BY)


def get_ready(piece: Piece, view: View, cancelled, recall: Recall) -> None:
    """Draw a draft that nobody looks at, when nothing else is to be done: the first that a hand
    asks for finds all that it is made of. Once for a piece and a scale; of many at once, only one.
    """
    if view.scale >= 1 or not _READYING.acquire(blocking=False):
        return
    if not recall.first_at(view.scale):
        _READYING.release()
        return

    def draw() -> None:
        try:
            engine.pixels(
                with_draft_textures(piece, assets()),
                view.region,
                view.scale,
                assets(),
                recall=recall,
                moving=False,
                cancelled=cancelled,
                patience=pool.FIRING,
            )
        except KilnError:
            pass  # whoever asks for it is told
        except Superseded:
            recall.forget(view.scale)
        finally:
            _READYING.release()

    threading.Thread(target=draw, name="kiln-ready", daemon=True).start()
