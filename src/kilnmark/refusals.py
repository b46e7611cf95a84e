"""A refusal becomes an answer that says what happened: JSON for scripts, a page for people."""

import logging

from django.http import HttpRequest, JsonResponse
from django.shortcuts import render

from kilncore.errors import KilnError, MissingAsset
from kilnmark import database

OUT_OF_MEMORY = (
    "There was not enough memory to draw this. Your piece is saved; look at a "
    "smaller part of it, or try again."
)
GONE = "This is not here, or not yours."
NOT_ALLOWED = (
    "Kilnmark could not be sure that this came from you. Nothing was changed. Sign "
    "in again, here or in another tab."
)
NOT_READ = "What was sent cannot be read, or is too large. Nothing was changed."
BROKEN = (
    "Kilnmark failed at this. What was saved is safe; what you did last is kept here and "
    "tried again."
)
log = logging.getLogger("kilnmark")


class RefusalMiddleware:
    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request: HttpRequest):
        response = self.get_response(request)
        if (
            "Cache-Control" not in response
        ):  # pages and answers are for their reader alone, and never old
            response["Cache-Control"] = "private, no-store"
        return response

    def process_exception(self, request: HttpRequest, error: Exception):
        passing = database.trouble(error)
        if passing:
            log.warning("%s: %s", request.path, error)
            return answer(request, *passing)
        if isinstance(error, MemoryError):
            log.warning("out of memory: %s", request.path)
            return answer(request, OUT_OF_MEMORY, 503)
        if not isinstance(error, KilnError):
            return None
        log.info("refused: %s (%s)", error.message, error.detail)
        return answer(request, _words(request, error), 422)


def _words(request: HttpRequest, error: KilnError) -> str:
    """What is said of it; a file that is not there is called by its name."""
    if not isinstance(error, MissingAsset):
        return error.message
    owned = request.user if request.user.is_authenticated else None
    names = (
        owned
        and getattr(owned, rows).filter(hash=error.detail).values_list("name", flat=True).first()
        for rows in ("textures", "artworks", "fonts")
    )
    name = next(filter(None, names), None)
    called = f"The file of “{name}”" if name else "A file that this piece uses"
    return (
        f"{called} is no longer among Kilnmark’s files. Nothing else is lost: bring the same "
        "file in again and all is as it was, or choose another in its place."
    )


def answer(request: HttpRequest, message: str, status: int, reason: str = "refused"):
    if wants_json(request):
        return JsonResponse({"reason": reason, "message": message}, status=status)
    return render(request, "refused.html", {"message": message}, status=status)


def wants_json(request: HttpRequest) -> bool:
    return "application/json" in (request.headers.get("accept", ""), request.content_type)


def bad_request(request, exception=None):
    return answer(request, NOT_READ, 400)


def forbidden(request, exception=None, reason=""):
    return answer(request, NOT_ALLOWED, 403, "signed-out")


def not_found(request, exception=None):
    return answer(request, GONE, 404)


def server_error(request):
    return answer(request, BROKEN, 500)
