"""Who is not signed in is sent to sign in; a script is told so, and can go on when it is done."""

from django.contrib.auth.middleware import LoginRequiredMiddleware

from kilnmark.refusals import answer, wants_json

SIGNED_OUT = "You were signed out. Sign in again, here or in another tab."


class SignInRequired(LoginRequiredMiddleware):
    def handle_no_permission(self, request, view_func):
        if wants_json(request):
            return answer(request, SIGNED_OUT, 401, "signed-out")
        return super().handle_no_permission(request, view_func)
