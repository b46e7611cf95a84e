from django.urls import include, path

from kilnmark.bench.views import bench

ANSWERING = ("changes", "stage", "drawing", "holding", "strip", "sheet", "walls", "marks")

urlpatterns = [
    path("", bench, name="bench"),
    *(path("", include(f"kilnmark.bench.{room}.urls")) for room in ANSWERING),
]
