from django.urls import path

from kilnmark.pieces import views

urlpatterns = [
    path("", views.listing, name="pieces"),
    path("start/from-file/", views.start_from, name="piece-start-from"),
    path("start/", views.start, name="piece-start"),
    path("<uuid:piece_id>/remove/", views.remove, name="piece-remove"),
    path("<uuid:piece_id>/card/<slug:key>", views.card, name="piece-card"),
]
