"""A session that is used does not end: once a day its end is moved on. One that is not used ends
after two weeks.
"""

import time

EVERY_SECONDS = 24 * 3600
MOVED_ON = "moved-on"


class StaysWhileUsed:
    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if (
            request.user.is_authenticated
            and time.time() - request.session.get(MOVED_ON, 0) > EVERY_SECONDS
        ):
            request.session[MOVED_ON] = int(time.time())
        return self.get_response(request)
