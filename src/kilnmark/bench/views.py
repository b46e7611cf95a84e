from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_POST

from kilncore import edits
from kilncore.document import dump
from kilncore.errors import KilnError, Superseded
from kilncore.steps import STEP_KINDS
from kilncore.warm_up import READY
from kilnmark.bench import marks, pictures, sheets, strip
from kilnmark.bench.asking import asked_json
from kilnmark.bench.state import told
from kilnmark.bench.turns import turns
from kilnmark.pieces import actions
from kilnmark.pieces.models import Piece
from kilnmark.private import kept_by_key
from kilnmark.shelf.actions import fitting

STALE = {"reason": "stale", "message": "This piece was changed elsewhere, perhaps in another tab. Nothing is lost: "
                                       "show the newest state and make your last change again."}


def own_piece(request, piece_id) -> Piece:
    rows = Piece.objects.select_related("head", "head__onward", "owner")
    return get_object_or_404(rows, pk=piece_id, owner=request.user)


@require_GET
def bench(request, piece_id):
    piece = own_piece(request, piece_id)
    document = piece.document
    part = document.stack[-1].id if document.stack else "ground"
    return render(request, "bench/bench.html", {"piece": piece, "document": document, "told": told(piece), "part": part,
                                                      "warm": READY.is_set()})


@require_GET
def strip_view(request, piece_id):
    piece = own_piece(request, piece_id)
    document, part = piece.document, request.GET.get("part", "ground")
    return render(request, "bench/strip.html", {
        "piece": piece, "part": part, "chosen": request.GET.get("step", "bare"), "tabs": strip.tabs(document),
        "frames": strip.frames(document, part), "offered": strip.offered(part),
    })


@require_GET
def strip_picture(request, piece_id, part, number, key):
    document = own_piece(request, piece_id).document
    point = strip.point_at(document, part, number)
    draw = pictures.alone_picture if "alone" in request.GET else pictures.strip_picture
    return kept_by_key(*draw(document, point), fresh=key == pictures.point_key(document, point))


@require_GET
def sheet(request, piece_id):
    piece = own_piece(request, piece_id)
    document = piece.document
    chosen = sheets.sheet_for(document, request.GET.get("part", "ground"), request.GET.get("step", "bare"))
    textures = {row.hash: row for row in request.user.textures.filter(hash__in=document.textures())}
    return render(request, chosen.template, {"sheet": chosen, "piece": piece, "document": document, "textures": textures})


@require_POST
def change(request, piece_id):
    return _moved(request, piece_id, lambda piece, asked: actions.change(
        piece, asked.get("version"), _with_textures(request.user, asked.get("edits", [])), str(asked.get("label", "Changed"))))


@require_POST
def undo(request, piece_id):
    return _moved(request, piece_id, lambda piece, asked: actions.undo(piece, asked.get("version")))


@require_POST
def redo(request, piece_id):
    return _moved(request, piece_id, lambda piece, asked: actions.redo(piece, asked.get("version")))


@require_POST
def add_lettering(request, piece_id):
    return _moved(request, piece_id, lambda piece, asked: _add(
        piece, asked.get("version"), marks.lettering(piece.document, asked.get("text", ""))))


@require_POST
def add_svg(request, piece_id):
    piece = own_piece(request, piece_id)
    file = request.FILES.get("file")
    if file is None:
        raise KilnError("Choose an SVG file to bring in.")
    brought = actions.bring_in_svg(request.user, file.name, marks.read_svg(file))
    version = request.POST.get("version", "")
    try:
        _add(piece, int(version) if version.isdecimal() else None, marks.vector(piece.document, brought.artwork))
    except actions.Stale:
        return JsonResponse(STALE, status=409)
    note = f"Left out of the SVG: {', '.join(brought.left_out)}." if brought.left_out else ""
    return JsonResponse(told(own_piece(request, piece_id)) | {"note": note})


@require_POST
def stage(request, piece_id):
    """A picture of the stage: the stored piece, with edits that are not saved yet, as a draft or exact."""
    piece = own_piece(request, piece_id)
    asked = asked_json(request)
    if asked.get("version") != piece.version:
        return JsonResponse(STALE, status=409)
    document = edits.apply(piece.document, asked.get("edits", []))
    actions.check_owned(request.user, document)
    point = asked.get("point")
    point = strip.point_at(document, point.get("part"), point.get("number")) if isinstance(point, dict) else None
    sequence = asked.get("sequence") if isinstance(asked.get("sequence"), int) else 0
    outdated = turns.take((request.user.pk, str(asked.get("bench"))[:40]), sequence)
    try:
        view = pictures.view_of(asked.get("view"))
        content, media_type = pictures.stage(document, view, asked.get("quality") == "exact", point, outdated)
    except Superseded:
        return JsonResponse({"reason": "superseded", "message": "A newer picture was asked for."}, status=409)
    return HttpResponse(content, content_type=media_type, headers={"Cache-Control": "no-store"})


@require_GET
def document_file(request, piece_id):
    piece = own_piece(request, piece_id)
    return HttpResponse(dump(piece.document), content_type="application/json",
                        headers={"Content-Disposition": 'attachment; filename="piece.kilnmark.json"'})


def _with_textures(owner, changes):
    """New steps that need a texture begin with one that fits, so that something shows at once."""
    if not isinstance(changes, list):
        return changes
    filled = []
    for edit in changes:
        kind = STEP_KINDS.get(edit.get("kind")) if isinstance(edit, dict) and edit.get("op") == "add_step" else None
        if kind and "texture" in kind.params.model_fields and not edit.get("params"):
            texture = fitting(owner, kind.kind)
            edit = {**edit, "params": {"texture": texture.ref}} if texture else edit
        filled.append(edit)
    return filled


def _add(piece: Piece, version, mark: dict) -> Piece:
    return actions.change(piece, version, [{"op": "add_mark", "mark": mark}], "Mark brought in")


def _moved(request, piece_id, action):
    """Run action(piece, what was asked) and tell the new state; a stale version is refused with 409."""
    piece = own_piece(request, piece_id)
    try:
        action(piece, asked_json(request))
    except actions.Stale:
        return JsonResponse(STALE, status=409)
    return JsonResponse(told(own_piece(request, piece_id)))
