"""The bench's page, its strip and its sheet; and every change of a piece."""

from django.contrib.messages import get_messages
from django.http import HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_GET, require_POST

from kilncore import edits
from kilncore.document import dump
from kilncore.model.files import FontHash, TextureHash
from kilncore.output.contents import CONTENTS
from kilncore.output.formats import FORMATS
from kilncore.warm_up import READY
from kilnmark import door
from kilnmark.bench import (
    marks,
    pictures,
    sheets,
    strip,
)
from kilnmark.bench.filling_in import filled_in
from kilnmark.bench.own import decimal, number, own_piece, stale
from kilnmark.bench.snapshot import artworks_of, snapshot
from kilnmark.pieces import actions, artworks
from kilnmark.pieces.cards import last_known
from kilnmark.private import kept_by_key
from kilnmark.uploads import uploads


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
            "begun": marks.begun(document),
            "has_recipes": request.user.recipes.here().exists(),
        },
    )


@require_GET
def strip_view(request, piece_id):
    piece = own_piece(request, piece_id)
    document, part = piece.document, request.GET.get("part", "ground")
    told = request.GET.get("area", "")
    area = strip.area_of(told)
    return render(
        request,
        "bench/strip.html",
        {
            "piece": piece,
            "part": part,
            "chosen": request.GET.get("step", "bare"),
            "tabs": strip.tabs(document),
            "frames": strip.frames(document, part, area),
            "area": told if area else "",
            "offered": strip.offered(part),
            "treatment_path": sheets.treatment_path(document, part),
        },
    )


@require_GET
def strip_picture(request, piece_id, part, number, key):
    """A picture that is there already is handed out by its key; any other is drawn, of the piece as
    it stands now.
    """
    piece, alone = own_piece(request, piece_id), "alone" in request.GET
    known = pictures.found(request.user.pk, key, alone)
    if known:
        return kept_by_key(*known)
    point = strip.point_at(piece.document, part, number)
    area = strip.area_of(request.GET.get("area", ""))
    drawn = pictures.strip_picture(request.user.pk, piece.head, point, alone, area)
    return kept_by_key(*drawn, fresh=key == pictures.point_key(piece.document, point, area))


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
            "tabs": strip.tabs(document),
        },
    )


@require_GET
def snapshot_view(request, piece_id):
    """The newest state, for a page that knows an older one."""
    return JsonResponse(snapshot(own_piece(request, piece_id)))


@require_POST
def change(request, piece_id):
    return _moved(
        request,
        piece_id,
        door.Change,
        lambda piece, asked: actions.change(
            piece,
            asked.version,
            asked.edits,
            asked.label,
            asked.token,
            asked.visit,
            fill=filled_in,
        ),
    )


def _stepped(name: str):
    """A view that goes one state back or on, as the action of that name does."""

    @require_POST
    def view(request, piece_id):
        step = getattr(actions, name)
        return _moved(
            request,
            piece_id,
            door.Step,
            lambda piece, asked: step(piece, asked.version, asked.token),
        )

    return view


undo, redo = _stepped("undo"), _stepped("redo")


@require_POST
def add_lettering(request, piece_id):
    return _moved(
        request,
        piece_id,
        door.Words,
        lambda piece, asked: actions.change(
            piece,
            asked.version,
            lambda document: [{"op": "add_mark", "mark": marks.lettering(document, asked.text)}],
            "Mark brought in",
            asked.token,
        ),
    )


@require_POST
def bring_in(request, piece_id):
    """Files that were chosen, dropped or pasted: marks, or the ground."""
    piece = own_piece(request, piece_id)
    sent = request.POST
    asked = door.checked(
        door.BringIn,
        {
            "version": number(sent.get("version")),
            "token": sent.get("token"),
            "place": sent.get("as", "marks"),
            "x": decimal(sent.get("x")),
            "y": decimal(sent.get("y")),
        },
    )
    files = uploads(request)
    try:
        notes = actions.bring_onto(
            piece,
            asked.version,
            files,
            lambda document, artworks: marks.edits_of(document, artworks, asked.place, asked.at),
            asked.label,
            asked.token,
        )
    except actions.Stale:
        return stale(snapshot(own_piece(request, piece_id)))
    return JsonResponse(snapshot(own_piece(request, piece_id)) | {"note": " ".join(notes)})


@require_POST
def replace_everywhere(request, piece_id):
    return _moved(
        request,
        piece_id,
        door.ReplaceEverywhere,
        lambda piece, asked: artworks.replace_everywhere(
            piece, asked.version, asked.mark, asked.art, asked.fit, asked.token
        ),
    )


@require_GET
def document_file(request, piece_id):
    piece = own_piece(request, piece_id)
    return HttpResponse(
        dump(piece.document),
        content_type="application/json",
        headers={"Content-Disposition": 'attachment; filename="piece.kilnmark.json"'},
    )


def _moved(request, piece_id, model, action):
    """Run action(piece, what was asked) and tell the new state; a stale version is refused with
    409.
    """
    piece = own_piece(request, piece_id)
    try:
        action(piece, door.asked(request, model))
    except actions.Stale:
        return stale(snapshot(own_piece(request, piece_id)))
    return JsonResponse(snapshot(own_piece(request, piece_id)))
