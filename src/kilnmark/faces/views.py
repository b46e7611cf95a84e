from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_GET, require_POST

from kilncore.typesetting.shipped import SHIPPED
from kilnmark.faces import actions
from kilnmark.faces.models import Font
from kilnmark.pictures import PICTURES
from kilnmark.private import kept_by_key
from kilnmark.storage import assets
from kilnmark.uploads import uploads

SHIPPED_BY_NAME = {one.name: one for one in SHIPPED}


@require_GET
def choices(request):
    """All faces, as pictures of the words that are to be set."""
    return _choices(request)


@require_POST
def upload(request):
    """Fonts that are brought in; the last one is marked in the list."""
    found = [actions.bring_in(request.user, one.data) for one in uploads(request)]
    return _choices(request, found[-1])


def _choices(request, newest: Font | None = None):
    given = request.POST if request.method == "POST" else request.GET
    context = {
        "shipped": SHIPPED,
        "own": request.user.fonts.here(),
        "newest": newest,
        "text": given.get("text", "")[: actions.MOST_LETTERS],
        "chosen": given.get("font", ""),
    }
    return render(request, "faces/choices.html", context)


@require_GET
def sample(request, ref):
    """Words in a face: the same as long as the address is."""
    _own(request, ref)
    text = request.GET.get("text", "")[: actions.MOST_LETTERS]
    content = PICTURES.get(("face", ref, text), lambda: (actions.sample(ref, text), "image/png"))
    return kept_by_key(*content)


@require_GET
def file(request, ref):
    """The font itself, for the browser to show a caret among its letters."""
    _own(request, ref)
    if ref in SHIPPED_BY_NAME:
        answer = FileResponse(SHIPPED_BY_NAME[ref].path.open("rb"), content_type="font/ttf")
    else:
        answer = HttpResponse(assets().data(ref), content_type="font/ttf")
    answer["Cache-Control"] = "private, max-age=31536000, immutable"
    return answer


def _own(request, ref: str) -> None:
    """A shipped font, or one of theirs; 404 for any other."""
    if ref not in SHIPPED_BY_NAME:
        get_object_or_404(Font, owner=request.user, hash=ref)
