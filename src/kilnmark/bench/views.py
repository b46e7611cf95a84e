import math

from django.http import HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_POST

from kilncore import edits
from kilncore.document import dump
from kilncore.engine.art_colours import art_colour_at, art_colours
from kilncore.engine.followed import torn_at
from kilncore.engine.held_back import held_back
from kilncore.engine.range_tones import range_tones, tone_at
from kilncore.engine.see_through import see_through
from kilncore.engine.without import without_something
from kilncore.errors import KilnError, Superseded
from kilncore.model.files import FontHash, TextureHash
from kilncore.output.preview import encode
from kilncore.recipe import SCALED
from kilncore.warm_up import READY
from kilnmark import door
from kilnmark.bench import (
    marks,
    pictures,
    sheets,
    sources,
    strip,
    tryouts,
)
from kilnmark.bench.filling_in import filled_in
from kilnmark.bench.hatching import LOOKS
from kilnmark.bench.readings import readings_of_step
from kilnmark.bench.snapshot import artworks_of, snapshot
from kilnmark.bench.turns import turns
from kilnmark.pieces import actions, artworks
from kilnmark.pieces.models import Piece
from kilnmark.private import kept_by_key
from kilnmark.storage import assets
from kilnmark.uploads import uploads

MOST_SKIPPED = 80  # places of a texture
STALE = {
    "reason": "stale",
    "message": "This piece was changed elsewhere, perhaps in another tab. Nothing is lost: "
    "show the newest state and make your last change again.",
}
SUPERSEDED = {"reason": "superseded", "message": "A newer picture was asked for."}


def own_piece(request, piece_id) -> Piece:
    rows = Piece.objects.select_related("head", "head__onward", "owner")
    return get_object_or_404(rows, pk=piece_id, owner=request.user, binned=None)


@require_GET
def bench(request, piece_id):
    piece = own_piece(request, piece_id)
    document = piece.document
    part = document.stack[-1].id if document.stack else "ground"
    return render(
        request,
        "bench/bench.html",
        {
            "piece": piece,
            "document": document,
            "snapshot": snapshot(piece),
            "part": part,
            "warm": READY.is_set(),
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


@require_POST
def change(request, piece_id):
    return _moved(
        request,
        piece_id,
        door.Change,
        lambda piece, asked: actions.change(
            piece,
            asked.version,
            filled_in(piece, asked.edits),
            asked.label,
            asked.token,
        ),
    )


@require_POST
def undo(request, piece_id):
    return _moved(
        request,
        piece_id,
        door.Step,
        lambda piece, asked: actions.undo(piece, asked.version, asked.token),
    )


@require_POST
def redo(request, piece_id):
    return _moved(
        request,
        piece_id,
        door.Step,
        lambda piece, asked: actions.redo(piece, asked.version, asked.token),
    )


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
            "version": _number(sent.get("version")),
            "token": sent.get("token"),
            "place": sent.get("as", "marks"),
            "x": _decimal(sent.get("x")),
            "y": _decimal(sent.get("y")),
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
        return JsonResponse(STALE, status=409)
    return JsonResponse(snapshot(own_piece(request, piece_id)) | {"note": " ".join(notes)})


@require_GET
def uses(request, piece_id):
    """Where the art of a mark is shown too, before it is replaced everywhere."""
    piece = own_piece(request, piece_id)
    art = piece.document.mark(request.GET.get("mark", "")).art
    found = artworks.uses_of(request.user, art.hash) if hasattr(art, "hash") else []
    return render(request, "bench/uses.html", {"uses": found, "piece": piece})


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
def source(request, piece_id):
    """A small picture of what an operation of a chain is given: colours are picked on it."""
    piece = own_piece(request, piece_id)
    found = sources.before(
        piece.document, request.GET.get("path", ""), request.GET.get("operation")
    )
    return HttpResponse(found, content_type="image/png", headers={"Cache-Control": "private"})


@require_POST
def stage(request, piece_id):
    """A picture of the stage: the stored piece, with edits that are not saved yet, as a draft or
    exact.
    """
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.Stage)
    if asked.version != piece.version:
        return JsonResponse(STALE, status=409)
    document, files = _edited(request, piece, asked.edits)
    document = see_through(document, asked.see) if asked.see else document
    document = without_something(document, asked.without) if asked.without else document
    point = asked.point and strip.point_at(document, asked.point.part, asked.point.number)
    return newest(
        request,
        asked,
        lambda outdated: pictures.stage(
            document, pictures.view_of(asked.view), asked.quality == "exact", point, outdated, files
        ),
    )


def _edited(request, piece: Piece, changes: list[dict]):
    """(document, files) of a piece with edits that are not saved yet."""
    files = actions.Brought(assets())
    changes = filled_in(piece, changes)
    document = edits.apply(piece.document, changes, files) if changes else piece.document
    if actions.names_files(changes) or files.names:
        actions.check_owned(request.user, document, files.names)
    return document, files


def newest(request, asked, draw):
    """draw(outdated) as (bytes, media type); refused when its bench asks for a newer one."""
    outdated = turns.supersede((request.user.pk, asked.bench), asked.sequence)
    try:
        content, media_type = draw(outdated)
    except Superseded:
        return JsonResponse(SUPERSEDED, status=409)
    return HttpResponse(content, content_type=media_type, headers={"Cache-Control": "no-store"})


@require_POST
def held_view(request, piece_id):
    """What the landing of a step, or of a mark, holds back, or where a mark is torn: a layer to be
    laid over the stage."""
    piece = own_piece(request, piece_id)
    asked = door.asked(request, door.HeldBack)
    if asked.version != piece.version:
        return JsonResponse(STALE, status=409)
    document, files = _edited(request, piece, asked.edits)
    view = pictures.view_of(asked.view)

    def draw(outdated):
        if asked.of == "torn":
            found = torn_at(document, asked.step or "", view.region, view.scale, files)
        else:
            region = (asked.part, asked.step, view.region, view.scale)
            found = held_back(document, *region, files, cancelled=outdated)
        return encode(LOOKS[asked.look](*found), lossless=True)

    return newest(request, asked, draw)


@require_GET
def tried(request, piece_id):
    """A small picture of a part of the piece as it would be with some edits. The address says of
    which version it is: what it shows never changes.
    """
    piece = own_piece(request, piece_id)
    asked = door.checked(
        door.Tried,
        {
            "version": _number(request.GET.get("version")),
            "part": request.GET.get("part", ""),
            "edits": door.listed(request.GET.get("edits", "[]")),
        },
    )
    if asked.version != piece.version:
        return JsonResponse(STALE, status=409)
    document = edits.apply(piece.document, filled_in(piece, asked.edits))
    actions.check_owned(request.user, document)
    large = "large" in request.GET
    return kept_by_key(*pictures.tried(request.user.pk, document, asked.part, large))


@require_GET
def readings(request, piece_id):
    """What is read of a mark that a step treats."""
    piece = own_piece(request, piece_id)
    found = readings_of_step(
        piece.document, request.GET.get("part", ""), request.GET.get("step", "")
    )
    return render(request, "bench/readings.html", {"readings": found})


@require_GET
def tones(request, piece_id):
    """How often each tone occurs that a blend range reads, of exactly the pixels concerned."""
    piece = own_piece(request, piece_id)
    counts = range_tones(piece.document, *_range_asked(request), assets())
    return JsonResponse({"counts": [round(float(one), 6) for one in counts]})


@require_GET
def tone(request, piece_id):
    """The tone that a blend range reads at a place."""
    piece = own_piece(request, piece_id)
    place = _place(request)
    if place is None:
        raise KilnError("A place is two numbers.")
    found = tone_at(piece.document, *_range_asked(request), place, assets())
    return JsonResponse({"tone": found and round(found, 5)})


def _place(request) -> tuple[float, float] | None:
    """(x, y) in document px; None for anything else."""
    found = tuple(_decimal(request.GET.get(axis)) for axis in "xy")
    return found if None not in found and all(map(math.isfinite, found)) else None


def _range_asked(request) -> tuple:
    """(part, step, of, reads)."""
    asked = request.GET
    step = asked.get("step") or None
    return asked.get("part", ""), step, asked.get("of", ""), asked.get("reads", "")


@require_GET
def colours(request, piece_id):
    """The flat colours of a part's bare art; with a place, the one that is nearest to it there."""
    piece, part = own_piece(request, piece_id), request.GET.get("part", "")
    place = _place(request)
    at = place and art_colour_at(piece.document, part, place, assets())
    return JsonResponse({"colours": art_colours(piece.document, part, assets()), "at": at})


@require_GET
def tryouts_wall(request, piece_id):
    """Live alternatives for one choice, on the piece."""
    piece = own_piece(request, piece_id)
    part, path = request.GET.get("part", ""), door.listed(request.GET.get("path", ""))
    document = piece.document
    kind, asked = request.GET.get("kind", ""), request.GET
    choice = tryouts.Choice(
        request.user,
        document,
        path,
        min(_number(asked.get("skip")) or 0, MOST_SKIPPED),
        asked.get("sizes", SCALED),
        "after" not in asked,
    )
    found = tryouts.candidates_of(kind, choice)
    wall = tryouts.wall(
        request.user.pk, document, part, found, lambda changes: filled_in(piece, changes)
    )
    return render(
        request, "bench/tryouts.html", {"wall": wall, "piece": piece, "part": part, "kind": kind}
    )


@require_GET
def document_file(request, piece_id):
    piece = own_piece(request, piece_id)
    return HttpResponse(
        dump(piece.document),
        content_type="application/json",
        headers={"Content-Disposition": 'attachment; filename="piece.kilnmark.json"'},
    )


def _number(text: str | None) -> int | None:
    return int(text) if text and text.isdecimal() and len(text) < 16 else None


def _decimal(text: str | None) -> float | None:
    try:
        return float(text) if text and len(text) < 30 else None
    except ValueError:
        return None


def _moved(request, piece_id, model, action):
    """Run action(piece, what was asked) and tell the new state; a stale version is refused with
    409.
    """
    piece = own_piece(request, piece_id)
    try:
        action(piece, door.asked(request, model))
    except actions.Stale:
        return JsonResponse(STALE, status=409)
    return JsonResponse(snapshot(own_piece(request, piece_id)))
