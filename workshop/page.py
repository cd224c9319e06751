"""The page that the front end draws itself on."""

from __future__ import annotations

import secrets

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

# The page runs and loads what comes from here, and nothing else; styles that its parts put in are
# known by a word of the day.
_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; img-src 'self' blob: data:; font-src 'self'; "
    "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The built page; the cookie it sets is what the front end proves its requests with."""
    nonce = secrets.token_urlsafe(16)
    answer = render(request, "index.html", {"nonce": nonce})
    answer["Content-Security-Policy"] = _POLICY.format(nonce=nonce)
    return answer
