"""Routes: the API, and one page for everything else."""

from django.urls import path, re_path

from server.common.pages import health, page
from server.config.api import api

urlpatterns = [
    path("api/health", health),
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/|static/).*$", page),
]

handler400 = "server.common.problems.refused"
handler404 = "server.common.problems.nowhere"
handler500 = "server.common.problems.failed"
