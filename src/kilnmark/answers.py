"""Every answer says that it is Kilnmark's. A page that a proxy or a hotel's network gives instead
has no such header, and the browser's side takes it for no answer at all.
"""

HEADER = "X-Kilnmark"


class Answers:
    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        response[HEADER] = "1"
        return response
