from django.urls import path

from kilnmark.recipes import views

urlpatterns = [
    path("recipes/", views.listing, name="recipes"),
    path("recipes/bring-in/", views.give, name="recipes-give"),
    path("recipes/<uuid:recipe_id>/picture/", views.picture, name="recipe-picture"),
    path("recipes/<uuid:recipe_id>/change/", views.change, name="recipe-change"),
    path("pieces/<uuid:piece_id>/recipes/keep/", views.keep, name="recipe-keep"),
]
