"""The page that the front end draws itself on."""

from __future__ import annotations

import contextlib
import re
import secrets

from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie

from workshop.errors import Damaged, NotThere
from workshop.services.live_meshes import state_of
from workshop.services.parts import part_at

# The page runs and loads what comes from here, and nothing else; styles that its parts put in are
# known by a word of the day.
_POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; img-src 'self' blob: data:; font-src 'self'; "
    "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)


_PART = re.compile(r"/projects/(\d{1,18})/parts/(\d{1,18})/?")


def _asked_soon(path: str) -> list[str]:
    """What the page at an address will ask first: a part is drawn the sooner if that need not wait
    for the scripts."""
    found = _PART.fullmatch(path)
    if found is None:
        return []
    project, part = found.groups()
    with contextlib.suppress(NotThere, Damaged, DatabaseError):
        mesh = f"/api/meshes/{state_of(part_at(int(part))).snapshot}"
        return [f"/api/projects/{project}", f"/api/parts/{part}", mesh]
    return []


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The built page; the cookie it sets is what the front end proves its requests with."""
    nonce = secrets.token_urlsafe(16)
    answer = render(request, "index.html", {"nonce": nonce, "soon": _asked_soon(request.path)})
    answer["Content-Security-Policy"] = _POLICY.format(nonce=nonce)
    return answer
