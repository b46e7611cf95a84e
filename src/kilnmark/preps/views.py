from pathlib import Path
from tempfile import TemporaryDirectory

from django.contrib import messages
from django.http import FileResponse, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from kilncore.errors import KilnError
from kilncore.output import texture_files
from kilncore.prep.chain import makes_seamless
from kilncore.prep.seamless import Seamless
from kilncore.system.files import HALF
from kilnmark import door
from kilnmark.bench.own import stale
from kilnmark.pictures import draft, png_of
from kilnmark.pieces.actions import Stale
from kilnmark.pieces.textures import uses_of
from kilnmark.preps import actions, pictures, readings
from kilnmark.preps.asked import Picture, Trial
from kilnmark.preps.pictures import Look
from kilnmark.preps.sheet import sheet_of
from kilnmark.preps.shipped import FROM_PHOTO, SHIPPED
from kilnmark.preps.target import OnPiece, on_piece, on_shelf
from kilnmark.private import kept_by_key
from kilnmark.shelf import views as shelf
from kilnmark.storage import assets, folder_for

SOURCE_PX, SAMPLE_PX = 900, 300


def of_shelf(view):
    """The view, given the named prep of its address; a sample also of one in the bin."""

    def found(request, prep_id):
        return view(request, on_shelf(request.user, prep_id, binned_too=view is sample))

    return found


def of_use(view):
    """The view, given the use of a texture that lies at `path` on a piece."""

    def found(request, piece_id):
        return view(request, on_piece(request.user, piece_id, request.GET.get("path", "")))

    return found


@require_GET
def page(request, target):
    used = isinstance(target, OnPiece)
    texture = target.texture
    return render(
        request,
        "preps/prep.html",
        {
            "target": target,
            "texture": texture,
            "used": used,
            "snapshot": target.snapshot(),
            "sheet": sheet_of(target.ref(), target.path, request.GET.get("operation", "")),
            "preps": texture.preps.here(),
            "shipped": SHIPPED,
            "artworks": request.user.artworks.here()[:60],
            "ways": texture_files.WAYS.items(),
            "words": pictures.WORDS,
        },
    )


@require_GET
def sheet(request, target):
    """The chain, and the form of the chosen operation."""
    found = sheet_of(target.ref(), target.path, request.GET.get("operation", ""))
    return render(request, "preps/sheet.html", {"sheet": found, "target": target})


@require_POST
def picture(request, target):
    """The texture after some operations, as a draft or exact."""
    asked = door.asked(request, Picture)
    texture = pictures.at_stage(target.ref(asked.edits), asked.stage, asked.quality == "exact")
    return _image(pictures.drawn(texture, asked.look))


@require_POST
def trial(request, target):
    """The texture on a word, an artwork, or the mark that it is on."""
    asked = door.asked(request, Trial)
    exact, size = asked.quality == "exact", (asked.width, asked.height)
    if asked.kind == "here":
        if not isinstance(target, OnPiece):
            raise KilnError("This prep is not on a piece.")
        return _image(pictures.of_piece(target.document(asked.edits), target.part, exact, *size))
    art = None
    if asked.artwork:
        row = get_object_or_404(request.user.artworks.here(), hash=asked.artwork)
        art = row.art.model_dump(mode="json")
    ref = target.ref(asked.edits)
    document = pictures.trial(ref, asked.kind, asked.words, asked.mm, target.ppi, art)
    return _image(pictures.of_piece(document, "", exact, *size))


@require_GET
def source(request, target):
    """What an operation is given, to paint or crop on."""
    ref, wanted = target.ref(), request.GET.get("operation", "")
    ids = [one.id for one in ref.chain]
    if wanted not in ids:
        raise KilnError("This operation is no longer there.")
    texture = pictures.at_stage(ref, ids.index(wanted), False)
    planes = pictures.source_png(texture, SOURCE_PX)
    return HttpResponse(
        png_of(planes), content_type="image/png", headers={"Cache-Control": "no-store"}
    )


@require_GET
def ready(request, target):
    """What is measured of the ready texture."""
    told = readings.told(target.ref(), target.texture.measured, target.ppi)
    return JsonResponse({"told": told})


@require_GET
def file(request, target):
    """The ready texture as a file; `tile` makes it seamless first, if it is not."""
    ref, way = target.ref(), request.GET.get("way", "png8")
    if "tile" in request.GET and not makes_seamless(ref.chain):
        ref = ref.model_copy(update={"chain": (*ref.chain, Seamless())})
    if way not in texture_files.WAYS:
        raise KilnError("A texture cannot be saved so.", way[:20])
    planes = assets().texture(ref).planes
    with TemporaryDirectory(dir=folder_for("saving"), prefix=HALF) as folder:
        ending = texture_files.WAYS[way][1]
        path = Path(folder) / f"texture{ending}"
        texture_files.write(planes, way, path, target.ppi)
        opened = path.open("rb")  # stays readable when the folder is gone
    name = f"{target.texture.name}, {target.title}".replace("/", " ")[:80]
    return FileResponse(opened, as_attachment=True, filename=f"{name}{ending}")


def _image(pixels) -> HttpResponse:
    content, media_type = draft(pixels)
    return HttpResponse(content, content_type=media_type, headers={"Cache-Control": "no-store"})


# --- of named preps alone ---


@require_GET
def snapshot(request, target):
    """The newest state, for a page that knows an older one."""
    return JsonResponse(target.snapshot())


@require_GET
def sample(request, target):
    """The middle of the ready texture at its true pixels. The address says of which version."""
    texture = pictures.at_stage(target.ref(), None, False)
    pixels = pictures.drawn(texture, Look("true", SAMPLE_PX, SAMPLE_PX))
    return kept_by_key(*draft(pixels), fresh=request.GET.get("version") == str(target.version))


@require_POST
def change(request, target):
    return _moved(
        request,
        target,
        door.Change,
        lambda asked: actions.change(
            target.prep, asked.version, asked.edits, asked.label, asked.token
        ),
    )


@require_POST
def undo(request, target):
    return _moved(
        request,
        target,
        door.Step,
        lambda asked: actions.undo(target.prep, asked.version, asked.token),
    )


@require_POST
def redo(request, target):
    return _moved(
        request,
        target,
        door.Step,
        lambda asked: actions.redo(target.prep, asked.version, asked.token),
    )


def _moved(request, target, model, action):
    try:
        action(door.asked(request, model))
    except Stale:
        return stale(on_shelf(request.user, target.prep.pk).snapshot())
    return JsonResponse(on_shelf(request.user, target.prep.pk).snapshot())


@require_POST
def rename(request, target):
    actions.rename(target.prep, request.POST.get("name", ""))
    return redirect("prep", target.prep.pk)


@require_GET
def uses(request, target):
    """The pieces in which the texture is used, before a prep goes into all of them."""
    found = uses_of(request.user, target.texture.hash)
    return render(request, "preps/uses.html", {"uses": found, "target": target})


@require_POST
def everywhere(request, target):
    """What prepares the texture here, in all its uses."""
    uses = uses_of(request.user, target.texture.hash)
    return JsonResponse({"count": actions.everywhere(target.ref(), target.title, uses)})


@require_GET
def newest(request, texture_id):
    """The prep of a texture that was last worked on."""
    texture = get_object_or_404(request.user.textures.here(), pk=texture_id)
    return redirect("prep", actions.first_of(texture).pk)


@require_POST
def from_photo(request):
    """A photo comes to the shelf, with a prep that takes a texture from a good part of it: its
    frame is drawn first.
    """
    texture = shelf.uploaded(request)
    prep = actions.start(texture, like=FROM_PHOTO.get(request.POST.get("taken"), FROM_PHOTO["ink"]))
    return redirect(f"{reverse('prep', args=[prep.pk])}?operation={prep.stored[0]['id']}")


@require_POST
def shelve(request, target):
    """The ready pixels as a texture of their own."""
    texture = actions.as_texture(target.ref(), target.texture, request.POST.get("name", ""))
    messages.success(request, f"“{texture.name}” is on the shelf.")
    return redirect("texture", texture.pk)


@require_POST
def start(request, texture_id):
    """Another prep of a texture."""
    texture = get_object_or_404(request.user.textures.here(), pk=texture_id)
    prep = actions.start(texture, request.POST.get("name", ""), request.POST.get("like", ""))
    return redirect("prep", prep.pk)


@require_POST
def keep(request, target):
    """What a texture is prepared by on a piece, kept as a named prep."""
    ref = target.ref()
    name = request.POST.get("name", "") or target.title
    operations = tuple(one.model_dump(mode="json") for one in ref.chain)
    prep = actions.keep(target.texture, name, operations)
    if request.headers.get("accept") == "application/json":
        return JsonResponse({"name": prep.name, "url": on_shelf(request.user, prep.pk).base})
    return redirect("prep", prep.pk)
