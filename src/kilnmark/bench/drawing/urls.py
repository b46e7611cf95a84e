from django.urls import path

from kilnmark.bench.drawing import views

urlpatterns = [
    path("tips/<slug:name>/", views.tip_picture, name="tip-picture"),
    path("tips/<slug:name>/pixels/", views.tip_pixels, name="tip-pixels"),
    path("strokes/", views.strokes, name="piece-strokes"),
    path("edge/", views.edge, name="piece-edge"),
    path("sets/", views.keep_set, name="strokes-keep"),
]
