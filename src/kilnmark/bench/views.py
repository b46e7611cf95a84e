"""The bench's page."""

from django.contrib.messages import get_messages
from django.shortcuts import render
from django.views.decorators.http import require_GET

from kilncore.output.contents import CONTENTS
from kilncore.output.formats import FORMATS
from kilncore.warm_up import READY
from kilnmark.bench.changes.snapshot import snapshot
from kilnmark.bench.marks.coming import begun
from kilnmark.bench.own import own_piece
from kilnmark.pieces import actions
from kilnmark.pieces.cards import last_known


@require_GET
def bench(request, piece_id):
    piece, note = actions.mended(own_piece(request, piece_id))
    note = " ".join(filter(None, (note, *map(str, get_messages(request)))))
    document = piece.document
    part = document.stack[-1].id if document.stack else "ground"
    return render(
        request,
        "bench/bench.html",
        {
            "piece": piece,
            "document": document,
            "snapshot": snapshot(piece) | {"note": note},
            "part": part,
            "warm": READY.is_set(),
            "first": last_known(piece.head),
            "formats": FORMATS.values(),
            "contents": CONTENTS.values(),
            "begun": begun(document),
            "has_recipes": request.user.recipes.here().exists(),
        },
    )
