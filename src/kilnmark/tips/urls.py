from django.urls import path

from kilnmark.tips import views

urlpatterns = [
    path("shelf/<uuid:texture_id>/tip/", views.make, name="texture-tip"),
    path("shelf/<uuid:texture_id>/tip/tried/", views.tried, name="texture-tip-tried"),
    path("shelf/<uuid:texture_id>/whole/", views.whole, name="texture-whole"),
    path("shelf/tips/<int:tip_id>/picture/", views.picture, name="own-tip-picture"),
]
