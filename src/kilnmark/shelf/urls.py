from django.urls import path

from kilnmark.shelf import views

urlpatterns = [
    path("", views.listing, name="shelf"),
    path("choices/", views.choices, name="shelf-choices"),
    path("upload/", views.upload, name="shelf-upload"),
    path("makers/", views.make, name="makers"),
    path("makers/<slug:name>/", views.make, name="maker"),
    path("makers/<slug:name>/trial.jpg", views.trial, name="maker-trial"),
    path("making/<uuid:making_id>/", views.making_status, name="making-status"),
    path("making/<uuid:making_id>/stop/", views.making_stop, name="making-stop"),
    path("<uuid:texture_id>/sample/<slug:key>", views.sample, name="texture-sample"),
]
