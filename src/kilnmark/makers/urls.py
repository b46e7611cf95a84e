from django.urls import path

from kilnmark.makers import views

urlpatterns = [
    path("", views.wall, name="makers"),
    path("<slug:name>/", views.maker, name="maker"),
    path("<slug:name>/card/<slug:key>.jpg", views.card, name="maker-card"),
    path("<slug:name>/trial.jpg", views.trial, name="maker-trial"),
    path("<slug:name>/like/", views.like, name="maker-like"),
]
