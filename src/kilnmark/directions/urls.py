from django.urls import path

from kilnmark.directions import views

urlpatterns = [
    path("", views.page, name="directions"),
    path("put/", views.put, name="direction-put"),
    path("mix/", views.mix, name="direction-mix"),
    path("reseed/", views.reseed, name="direction-reseed"),
    path("let-go/", views.let_go, name="direction-let-go"),
    path("go-on/", views.go_on, name="direction-go-on"),
    path("fire/", views.fire, name="directions-fire"),
]
