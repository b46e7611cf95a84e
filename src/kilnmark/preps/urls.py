"""The same pages for a named prep and for one use on a piece."""

from django.urls import path

from kilnmark.preps import views
from kilnmark.preps.views import of_shelf, of_use

SHARED = (
    *("sheet", "picture", "trial", "source", "ready", "file", "sample"),
    *("uses", "everywhere", "shelve"),
)
ON_SHELF = ("snapshot", "change", "undo", "redo", "rename")

urlpatterns = [
    path("shelf/<uuid:texture_id>/prep/", views.newest, name="prep-newest"),
    path("shelf/<uuid:texture_id>/prep/start/", views.start, name="prep-start"),
    path("shelf/from-photo/", views.from_photo, name="prep-from-photo"),
    path("shelf/preps/<uuid:prep_id>/", of_shelf(views.page), name="prep"),
    path("pieces/<uuid:piece_id>/prep/", of_use(views.page), name="prep-use"),
    path("pieces/<uuid:piece_id>/prep/keep/", of_use(views.keep), name="prep-keep"),
    *(
        path(
            f"shelf/preps/<uuid:prep_id>/{name}/",
            of_shelf(getattr(views, name)),
            name=f"prep-{name}",
        )
        for name in (*SHARED, *ON_SHELF)
    ),
    *(
        path(
            f"pieces/<uuid:piece_id>/prep/{name}/",
            of_use(getattr(views, name)),
            name=f"prep-use-{name}",
        )
        for name in SHARED
    ),
]
