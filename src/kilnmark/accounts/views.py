import threading

from django.contrib.auth import views
from django.http import HttpResponse
from django.shortcuts import render

from kilnmark.refusals import answer, wants_json

TOO_OFTEN = "That name was tried too often with a wrong password. Wait ten minutes, then try again."
BUSY = "Several people are signing in at this moment. Try again in a few seconds."
WRONG = "That name and password do not go together. Try again."
AT_ONCE = threading.BoundedSemaphore(
    2
)  # each works out a slow hash: others must get through meanwhile
PATIENCE_SECONDS = 4


class SignIn(views.LoginView):
    """For people as a page; for the bench, when a session has ended, as JSON in place."""

    template_name = "accounts/sign_in.html"

    def post(self, request, *args, **kwargs):
        if not AT_ONCE.acquire(timeout=PATIENCE_SECONDS):
            return _said(request, BUSY, 429)
        try:
            response = super().post(request, *args, **kwargs)
            if not wants_json(request):
                return response
            if response.status_code == 302:
                return HttpResponse(status=204)
            return answer(request, WRONG, 422) if response.status_code == 200 else response
        finally:
            AT_ONCE.release()


def too_often(request, credentials, *args, **kwargs):
    return _said(request, TOO_OFTEN, 429)


def _said(request, message: str, status: int):
    if wants_json(request):
        return answer(request, message, status)
    return render(request, "accounts/sign_in.html", {"trouble": message}, status=status)
