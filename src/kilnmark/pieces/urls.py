from django.urls import path

from kilnmark.pieces import views

urlpatterns = [
    path("artworks/", views.artworks, name="artworks"),
    path("artworks/choices/", views.artwork_choices, name="artwork-choices"),
    path("artworks/bring-in/", views.artwork_bring_in, name="artwork-bring-in"),
    path("artworks/<int:artwork_id>/picture.png", views.artwork_picture, name="artwork-picture"),
    path(
        "artworks/<int:artwork_id>/page-<int:number>.png", views.page_picture, name="page-picture"
    ),
    path("<uuid:piece_id>/duplicate/", views.duplicate, name="piece-duplicate"),
    path("", views.listing, name="pieces"),
    path("start/from-file/", views.start_from, name="piece-start-from"),
    path("start/as/<int:artwork_id>/", views.start_as, name="piece-start-as"),
    path(
        "artworks/<int:artwork_id>/knocked-out.png",
        views.artwork_knocked_out,
        name="artwork-knocked-out",
    ),
    path("start/", views.start, name="piece-start"),
    path("<uuid:piece_id>/card/<slug:key>", views.card, name="piece-card"),
]
