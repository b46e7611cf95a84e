from django.urls import path

from kilnmark.firings import views

urlpatterns = [
    path("", views.listing, name="firings"),
    path("of/<uuid:piece_id>/", views.ask, name="fire"),
    path("<uuid:firing_id>/status/", views.status, name="firing-status"),
    path("<uuid:firing_id>/stop/", views.stop, name="firing-stop"),
    path("<uuid:firing_id>/file/", views.file, name="firing-file"),
]
