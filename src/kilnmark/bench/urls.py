from django.urls import path

from kilnmark.bench import shown, told, views

urlpatterns = [
    path("", views.bench, name="bench"),
    path("strip/", views.strip_view, name="strip"),
    path("strip/<slug:part>/<int:number>/<slug:key>", views.strip_picture, name="strip-picture"),
    path("sheet/", views.sheet, name="sheet"),
    path("stage/", shown.stage, name="stage"),
    path("held-back/", shown.held_view, name="held-back"),
    path("readings/", told.readings, name="piece-readings"),
    path("tones/", told.tones, name="piece-tones"),
    path("tones/at/", told.tone, name="piece-tone"),
    path("colours/", told.colours, name="piece-colours"),
    path("tryouts/", told.tryouts_wall, name="piece-tryouts"),
    path("tried/", told.tried, name="tried"),
    path("snapshot/", views.snapshot_view, name="piece-snapshot"),
    path("change/", views.change, name="change"),
    path("undo/", views.undo, name="undo"),
    path("redo/", views.redo, name="redo"),
    path("lettering/", views.add_lettering, name="add-lettering"),
    path("bring-in/", views.bring_in, name="bring-in"),
    path("uses/", told.uses, name="uses"),
    path("replace-everywhere/", views.replace_everywhere, name="replace-everywhere"),
    path("source/", told.source, name="picture-source"),
    path("piece.kilnmark.json", views.document_file, name="document-file"),
]
