"""A refusal by the core becomes an answer that says what happened: JSON for scripts, a page for people."""

import logging

from django.http import HttpRequest, JsonResponse
from django.shortcuts import render

from kilncore.errors import KilnError

log = logging.getLogger("kilnmark")


class RefusalMiddleware:
    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request: HttpRequest):
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception):
        if not isinstance(error, KilnError):
            return None
        log.info("refused: %s (%s)", error.message, error.detail)
        if wants_json(request):
            return JsonResponse({"reason": "refused", "message": error.message}, status=422)
        return render(request, "refused.html", {"message": error.message}, status=422)


def wants_json(request: HttpRequest) -> bool:
    return "application/json" in (request.headers.get("accept", ""), request.content_type)
