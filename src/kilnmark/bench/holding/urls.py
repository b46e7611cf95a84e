from django.urls import path

from kilnmark.bench.holding import views

urlpatterns = [
    path("held-back/", views.held_view, name="held-back"),
    path("tones/", views.tones, name="piece-tones"),
    path("tones/at/", views.tone, name="piece-tone"),
    path("colours/", views.colours, name="piece-colours"),
]
