from django.urls import path

from kilnmark.pins import views

urlpatterns = [
    path("pieces/<uuid:piece_id>/pins/", views.listing, name="piece-pins"),
    path("pieces/<uuid:piece_id>/pins/pin/", views.pin, name="piece-pin"),
    path("pieces/<uuid:piece_id>/versions/", views.versions, name="piece-versions"),
    path("pieces/<uuid:piece_id>/versions/apart/", views.apart, name="piece-apart"),
    path("pieces/<uuid:piece_id>/versions/<int:state_id>/", views.seen, name="piece-seen"),
    path(
        "pieces/<uuid:piece_id>/versions/<int:state_id>/readings/",
        views.state_readings,
        name="piece-seen-readings",
    ),
    path("pieces/<uuid:piece_id>/history/", views.history, name="piece-history"),
    path(
        "pieces/<uuid:piece_id>/history/<int:state_id>/picture/",
        views.state_picture,
        name="piece-state-picture",
    ),
    path(
        "pieces/<uuid:piece_id>/history/<int:state_id>/restore/",
        views.state_restore,
        name="piece-state-restore",
    ),
    path("pins/<uuid:pin_id>/picture/", views.picture, name="pin-picture"),
    path("pins/<uuid:pin_id>/restore/", views.restore, name="pin-restore"),
    path("pins/<uuid:pin_id>/unpin/", views.unpin, name="pin-unpin"),
]
