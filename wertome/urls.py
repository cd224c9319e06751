"""Addresses: the API, and the one page that everything else is drawn on."""

from django.urls import path, re_path

from workshop.api import api
from workshop.page import page

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", page),
]
