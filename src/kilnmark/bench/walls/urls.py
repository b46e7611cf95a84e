from django.urls import path

from kilnmark.bench.walls import views

urlpatterns = [
    path("tryouts/", views.tryouts_wall, name="piece-tryouts"),
    path("tried/", views.tried, name="tried"),
]
