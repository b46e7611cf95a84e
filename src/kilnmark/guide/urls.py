from django.urls import path

from kilnmark.guide import views

urlpatterns = [
    path("", views.contents, name="guide"),
    path("<slug:slug>/", views.job, name="guide-job"),
    path("<slug:slug>/begin/", views.begin, name="guide-begin"),
]
