"""Every change to a firing."""

from kilncore.document import Piece as Document
from kilncore.document import dump, load
from kilncore.errors import KilnError
from kilncore.output.contents import CONTENTS
from kilncore.output.fire import fire
from kilncore.output.formats import FORMATS
from kilnmark.firings.models import Firing
from kilnmark.jobs import Stage
from kilnmark.pieces.models import Piece
from kilnmark.storage import assets

MOST_WAITING = 20


def ask(
    piece: Piece,
    with_ground: bool,
    document: Document | None = None,
    title: str = "",
    file_format: str = "png",
    content: str = "piece",
) -> Firing:
    """Put the piece as it stands in line for the kiln; or one of its other states, under a title of
    its own. file_format : of FORMATS; content : of CONTENTS; KilnError for another.
    """
    FORMATS.named(file_format)
    CONTENTS.named(content)
    if piece.owner.firings.filter(stage__in=[Stage.WAITING, Stage.RUNNING]).count() >= MOST_WAITING:
        raise KilnError(
            f"{MOST_WAITING} firings are waiting already. Let some of them finish first."
        )
    return Firing.objects.create(
        owner=piece.owner,
        piece=piece,
        title=(title or piece.title)[:120],
        of_direction=document is not None,
        with_ground=with_ground,
        file_format=file_format,
        content=content,
        document=dump(document or piece.document),
    )


def stop(firing: Firing) -> None:
    Firing.stop(firing.pk)


next_waiting = Firing.next_waiting


def run(firing: Firing) -> None:
    """Make the file of a firing that was taken. A file whose row was stopped meanwhile goes."""

    def make(progress, cancelled):
        return fire(
            load(firing.document, assets()),
            firing.path,
            assets(),
            with_ground=firing.with_ground,
            file_format=firing.file_format,
            content=firing.content,
            progress=progress,
            cancelled=cancelled,
        )

    firing.work(make, lambda fired: {"seconds": fired.seconds, "bytes": fired.nbytes})
    if Firing.objects.filter(pk=firing.pk, stage=Stage.STOPPED).exists():
        firing.path.unlink(missing_ok=True)
