from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from kilncore.errors import KilnError
from kilncore.warm_up import READY
from kilnmark.pieces import actions, bringing
from kilnmark.pieces import artworks as shown
from kilnmark.pieces.cards import card as card_of
from kilnmark.pieces.cards import known
from kilnmark.pieces.forms import FromFileForm, StartForm
from kilnmark.pieces.models import Artwork, Piece
from kilnmark.private import kept_by_key
from kilnmark.uploads import uploads


@require_GET
def listing(request):
    return render(
        request,
        "pieces/listing.html",
        {"pieces": request.user.pieces.here().select_related("head"), "warm": READY.is_set()},
    )


@require_http_methods(["GET", "POST"])
def start(request):
    form = StartForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            return redirect("bench", piece_id=actions.start(request.user, form.document()).pk)
        except KilnError as error:
            form.add_error(None, error.message)
    return render(request, "pieces/start.html", {"form": form, "from_file": FromFileForm()})


@require_POST
def start_from(request):
    """A piece made of a file that was chosen or dropped, at its size."""
    form = FromFileForm(request.POST)
    try:
        files = uploads(request)
        found = bringing.start_from(request.user, files[0], form.document_of, form.asks)
        if not isinstance(found, Artwork):
            _tell_left_out(request, found)
        for other in files[1:]:
            messages.info(request, f"{other.name[:40]} was left out: a piece begins with one file.")
        if isinstance(found, Artwork):
            return redirect("piece-start-as", artwork_id=found.pk)
        return _begun(request, found)
    except KilnError as error:
        context = {"form": StartForm(), "from_file": form, "trouble": error.message}
        return render(request, "pieces/start.html", context, status=422)


def _tell_left_out(request, piece) -> None:
    """What of the file that a piece was begun with did not come in."""
    names = {getattr(mark.art, "hash", "") for mark in piece.document.marks()}
    for artwork in request.user.artworks.filter(hash__in=names):
        for note in artwork.facts.get("notes", ()):
            messages.info(request, f"{note[:1].upper()}{note[1:]}.")


def _begun(request, piece):
    """To its looks, if it is a mark that can have some; else to the bench."""
    looks = piece.document.stack and request.user.recipes.here().exists()
    return redirect("directions" if looks else "bench", piece_id=piece.pk)


@require_http_methods(["GET", "POST"])
def start_as(request, artwork_id):
    """What a picture is, where that cannot be known: a mark on a background, or a photograph."""
    artwork = get_object_or_404(Artwork.objects.here(), pk=artwork_id, owner=request.user)
    if request.method == "GET":
        return render(request, "pieces/start_as.html", {"artwork": artwork})
    form = FromFileForm(request.POST)
    piece = actions.start(request.user, form.document_of(artwork))
    return _begun(request, piece)


@require_GET
def artwork_knocked_out(request, artwork_id):
    """A picture without what may be its background."""
    artwork = get_object_or_404(Artwork, pk=artwork_id, owner=request.user)
    if not artwork.unsure:
        raise Http404
    return kept_by_key(*shown.knocked_out(artwork))


@require_POST
def duplicate(request, piece_id):
    """A piece of its own that begins as this one stands."""
    piece = get_object_or_404(Piece.objects.here(), pk=piece_id, owner=request.user)
    copy = actions.start(request.user, actions.copied(piece.document))
    return redirect("bench", piece_id=copy.pk)


@require_GET
def artworks(request):
    """All that was brought in, and on how many pieces it is; and the fonts."""
    counts = shown.counts(request.user)
    rows = list(request.user.artworks.here().order_by("-added")[: shown.MOST_LISTED])
    for row in rows:
        row.uses = counts.get(row.hash, 0)
    fonts = request.user.fonts.here()
    return render(request, "pieces/artworks.html", {"artworks": rows, "fonts": fonts})


@require_GET
def artwork_choices(request):
    return _choices(request)


@require_POST
def artwork_bring_in(request):
    """Files that are brought in to be chosen from."""
    found = [bringing.bring_in(request.user, one.name, one.data) for one in uploads(request)]
    return _choices(request, found[-1])


def _choices(request, newest: Artwork | None = None):
    rows = request.user.artworks.here().order_by("-added")[: shown.MOST_LISTED]
    return render(request, "pieces/choices.html", {"artworks": rows, "newest": newest})


@require_GET
def artwork_picture(request, artwork_id):
    artwork = get_object_or_404(Artwork, pk=artwork_id, owner=request.user)
    return kept_by_key(*shown.picture(artwork))


@require_GET
def page_picture(request, artwork_id, number):
    """A page of a PDF."""
    artwork = get_object_or_404(Artwork, pk=artwork_id, owner=request.user)
    return kept_by_key(*shown.page_picture(artwork, number))


@require_GET
def card(request, piece_id, key):
    """While the kernels are being loaded 503, if it was not drawn before: the page asks again,
    instead of holding a thread.
    """
    piece = get_object_or_404(Piece.objects.select_related("head"), pk=piece_id, owner=request.user)
    drawn = known(piece.head)
    if not drawn and not READY.wait(0.5):
        return HttpResponse(status=503, headers={"Retry-After": "2"})
    return kept_by_key(*(drawn or card_of(piece.head)), fresh=key == piece.card_key)
