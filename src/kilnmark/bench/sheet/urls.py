from django.urls import path

from kilnmark.bench.sheet import views

urlpatterns = [
    path("sheet/", views.sheet, name="sheet"),
    path("readings/", views.readings, name="piece-readings"),
    path("source/", views.source, name="picture-source"),
]
