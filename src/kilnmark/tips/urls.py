from django.urls import path

from kilnmark.tips import views

urlpatterns = [
    path("shelf/<uuid:texture_id>/tip/", views.make, name="texture-tip"),
    path("shelf/tips/<int:tip_id>/picture/", views.picture, name="own-tip-picture"),
]
