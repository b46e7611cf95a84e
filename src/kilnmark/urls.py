from django.urls import include, path
from django.views.generic import RedirectView

handler400 = "kilnmark.refusals.bad_request"
handler403 = "kilnmark.refusals.forbidden"
handler404 = "kilnmark.refusals.not_found"
handler500 = "kilnmark.refusals.server_error"
urlpatterns = [
    path("", RedirectView.as_view(pattern_name="pieces"), name="home"),
    path("account/", include("kilnmark.accounts.urls")),
    path("", include("kilnmark.preps.urls")),
    path("", include("kilnmark.pins.urls")),
    path("", include("kilnmark.recipes.urls")),
    path("", include("kilnmark.tips.urls")),
    path("pieces/", include("kilnmark.pieces.urls")),
    path("pieces/<uuid:piece_id>/", include("kilnmark.bench.urls")),
    path("pieces/<uuid:piece_id>/directions/", include("kilnmark.directions.urls")),
    path("shelf/makers/", include("kilnmark.makers.urls")),
    path("shelf/", include("kilnmark.shelf.urls")),
    path("faces/", include("kilnmark.faces.urls")),
    path("bin/", include("kilnmark.bin.urls")),
    path("guide/", include("kilnmark.guide.urls")),
    path("firings/", include("kilnmark.firings.urls")),
]
