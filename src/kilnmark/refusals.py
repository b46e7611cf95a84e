"""A refusal by the core becomes an answer that says what happened: JSON for scripts, a page for people."""

import logging

from django.http import HttpRequest, JsonResponse
from django.shortcuts import render

from kilncore.errors import KilnError

OUT_OF_MEMORY = "There was not enough memory to draw this. Your piece is saved; look at a smaller part of it, or try again."
log = logging.getLogger("kilnmark")


class RefusalMiddleware:
    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request: HttpRequest):
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception):
        if isinstance(error, MemoryError):
            log.warning("out of memory: %s", request.path)
            return _answer(request, OUT_OF_MEMORY, 503)
        if not isinstance(error, KilnError):
            return None
        log.info("refused: %s (%s)", error.message, error.detail)
        return _answer(request, error.message, 422)


def _answer(request: HttpRequest, message: str, status: int):
    if wants_json(request):
        return JsonResponse({"reason": "refused", "message": message}, status=status)
    return render(request, "refused.html", {"message": message}, status=status)


def wants_json(request: HttpRequest) -> bool:
    return "application/json" in (request.headers.get("accept", ""), request.content_type)
