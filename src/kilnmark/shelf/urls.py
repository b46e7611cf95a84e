from django.urls import path

from kilnmark.shelf import views

urlpatterns = [
    path("", views.listing, name="shelf"),
    path("choices/", views.choices, name="shelf-choices"),
    path("upload/", views.upload, name="shelf-upload"),
    path("bring-in/", views.bring_in, name="shelf-bring-in"),
    path("<uuid:texture_id>/", views.told, name="texture"),
    path("<uuid:texture_id>/favourite/", views.favourite, name="texture-favourite"),
    path("<uuid:texture_id>/away/", views.away, name="texture-away"),
    path("making/<uuid:making_id>/", views.making_status, name="making-status"),
    path("making/<uuid:making_id>/stop/", views.making_stop, name="making-stop"),
    path("<uuid:texture_id>/sample/<slug:key>", views.sample, name="texture-sample"),
]
