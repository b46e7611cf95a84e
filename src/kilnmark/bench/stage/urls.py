from django.urls import path

from kilnmark.bench.stage import views

urlpatterns = [
    path("stage/", views.stage, name="stage"),
    path("stage/lifted/", views.lifted, name="lifted"),
]
