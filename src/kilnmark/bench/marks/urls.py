from django.urls import path

from kilnmark.bench.marks import views

urlpatterns = [
    path("lettering/", views.add_lettering, name="add-lettering"),
    path("bring-in/", views.bring_in, name="bring-in"),
    path("uses/", views.uses, name="uses"),
    path("replace-everywhere/", views.replace_everywhere, name="replace-everywhere"),
]
