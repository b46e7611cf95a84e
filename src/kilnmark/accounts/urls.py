from django.contrib.auth import views
from django.urls import path

from kilnmark.accounts.views import SignIn

urlpatterns = [
    path("sign-in/", SignIn.as_view(), name="login"),
    path("sign-out/", views.LogoutView.as_view(), name="logout"),
]
