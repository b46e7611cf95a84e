from django.urls import path

from kilnmark.faces import views

urlpatterns = [
    path("choices/", views.choices, name="face-choices"),
    path("upload/", views.upload, name="face-upload"),
    path("<slug:ref>/words.png", views.sample, name="face-sample"),
    path("<slug:ref>/face.ttf", views.file, name="face-file"),
]
