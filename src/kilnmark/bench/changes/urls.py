from django.urls import path

from kilnmark.bench.changes import views

urlpatterns = [
    path("snapshot/", views.snapshot_view, name="piece-snapshot"),
    path("change/", views.change, name="change"),
    path("undo/", views.undo, name="undo"),
    path("redo/", views.redo, name="redo"),
    path("piece.kilnmark.json", views.document_file, name="document-file"),
]
