from django.urls import path

from kilnmark.bench.strip import views

urlpatterns = [
    path("strip/", views.strip_view, name="strip"),
    path("strip/<slug:part>/<int:number>/<slug:key>", views.strip_picture, name="strip-picture"),
]
