from django.http import Http404
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from kilnmark.guide.jobs import BY_SLUG, JOBS


@require_GET
def contents(request):
    """All jobs."""
    return render(request, "guide/contents.html", {"jobs": JOBS})


@require_GET
def job(request, slug):
    """One job, from its beginning to its end."""
    found = _job(slug)
    others = [one for one in JOBS if one is not found]
    return render(request, "guide/job.html", {"job": found, "others": others})


@require_POST
def begin(request, slug):
    """A piece or a prep of one's own to try it on."""
    page, arguments = _job(slug).begin(request.user)
    return redirect(page, **arguments)


def _job(slug: str):
    if slug not in BY_SLUG:
        raise Http404
    return BY_SLUG[slug]
