"""The sheet of what is chosen, and what is read beside it."""

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET

from kilncore import edits
from kilncore.model.files import FontHash, TextureHash
from kilnmark.bench.changes.snapshot import artworks_of
from kilnmark.bench.drawing.hand import tips_of
from kilnmark.bench.own import own_piece
from kilnmark.bench.sheet import sheets, sources
from kilnmark.bench.sheet.readings import readings_of_step
from kilnmark.bench.strip.tabs import tabs


@require_GET
def sheet(request, piece_id):
    piece = own_piece(request, piece_id)
    document = piece.document
    fonts = {row.hash: row for row in request.user.fonts.filter(hash__in=document.files(FontHash))}
    several = request.GET.get("several", "").split(",")
    chosen = (
        sheets.several_sheet(document, several[: edits.MAX_ITEMS])
        if len(several) > 1
        else sheets.sheet_for(
            document,
            request.GET.get("part", "ground"),
            request.GET.get("step", "bare"),
            artworks_of(piece),
            fonts,
        )
    )
    textures = {
        row.hash: row for row in request.user.textures.filter(hash__in=document.files(TextureHash))
    }
    return render(
        request,
        chosen.template,
        {
            "sheet": chosen,
            "piece": piece,
            "document": document,
            "textures": textures,
            "artworks": artworks_of(piece),
            "tabs": tabs(document),
            "tips": tips_of(request.user),
            "sets": request.user.stroke_sets.here(),
        },
    )


@require_GET
def readings(request, piece_id):
    """What is read of a mark that a step treats."""
    piece = own_piece(request, piece_id)
    found = readings_of_step(
        piece.document, request.GET.get("part", ""), request.GET.get("step", "")
    )
    return render(request, "bench/sheet/readings.html", {"readings": found})


@require_GET
def source(request, piece_id):
    """A small picture of what an operation of a chain is given: colours are picked on it."""
    piece = own_piece(request, piece_id)
    found = sources.before(
        piece.document, request.GET.get("path", ""), request.GET.get("operation")
    )
    return HttpResponse(found, content_type="image/png", headers={"Cache-Control": "private"})
