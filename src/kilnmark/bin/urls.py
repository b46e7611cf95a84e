from django.urls import path

from kilnmark.bin import views

urlpatterns = [
    path("", views.listing, name="bin"),
    path("<slug:kind>/<slug:key>/away/", views.throw_away, name="throw-away"),
    path("<slug:kind>/<slug:key>/back/", views.fetch_back, name="fetch-back"),
]
