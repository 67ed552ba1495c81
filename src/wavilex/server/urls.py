"""Addresses: the API, and the page for everything else."""

from __future__ import annotations

from django.urls import path, re_path

from wavilex.server.api import api
from wavilex.server.files.client_view import client_page, client_pdf
from wavilex.server.page import page, probe_page
from wavilex.server.problems import bad_request_view, not_found_view, server_error_view

urlpatterns = [
    path("api/v1/", api.urls),
    re_path(r"^api/.*$", not_found_view),
    re_path(r"^static/.*$", not_found_view),
    re_path(r"^p(?:/(?P<code>[^/]*))?$", probe_page),
    re_path(r"^c/(?P<secret>[A-Za-z0-9_-]{1,80})\.pdf$", client_pdf),
    re_path(r"^c/(?P<secret>[A-Za-z0-9_-]{1,80})$", client_page),
    re_path(r"^(?!api/|static/).*$", page),
]
handler400 = bad_request_view
handler404 = not_found_view
handler500 = server_error_view
