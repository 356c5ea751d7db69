"""Everything a grower keeps as one file, out and in."""

from tempfile import NamedTemporaryFile
from typing import Annotated
from uuid import UUID

from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router
from ninja.security import django_auth
from pydantic import Field

from server.accounts.api import grower_of
from server.archive.schemas import ArrivedOut, BroughtOut
from server.archive.services import BusyError
from server.archive.services.arriving import (
    DRAFT,
    MOST_ARCHIVE,
    MOST_PIECE,
    arrived,
    forget_old,
    let_go,
    take,
)
from server.archive.services.bring import bring_in
from server.archive.services.out import write_archive
from server.common.problems import problem
from server.common.schemas import PROBLEMS, Problem

router = Router(auth=django_auth)

ZIP = "application/zip"
At = Annotated[int, Field(ge=0, le=MOST_ARCHIVE)]


def _busy(error: BusyError) -> HttpResponse:
    response = problem(503, "Busy", str(error))
    response["Retry-After"] = "10"
    return response


@router.get(
    "",
    response={200: bytes, **PROBLEMS},
    openapi_extra={"responses": {200: {"content": {ZIP: {}}}}},
)
def take_out(request: HttpRequest) -> HttpResponse:
    """Everything of this account as one archive."""
    grower, now = grower_of(request), timezone.now()
    forget_old()
    file = NamedTemporaryFile(dir=settings.DATA, prefix=DRAFT, suffix=".part")  # noqa: SIM115 - the response closes it, and it is gone then
    try:
        write_archive(grower, file, now)
    except BusyError as error:
        file.close()
        return _busy(error)
    except BaseException:
        file.close()
        raise
    file.seek(0)
    name = f"Idle Canopy {now.astimezone(grower.zone):%Y-%m-%d}.canopy.zip"
    response = FileResponse(file, as_attachment=True, filename=name, content_type=ZIP)
    response["Cache-Control"] = "no-store"
    return response  # type: ignore[return-value]


PIECE = {
    "content": {"application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}
}


@router.post(
    "/arriving/{uuid:key}",
    response={200: ArrivedOut, **PROBLEMS, 413: Problem},
    openapi_extra={"requestBody": {"required": True, **PIECE}},
)
def piece(request: HttpRequest, key: UUID, at: At = 0) -> ArrivedOut | HttpResponse:
    """Send a piece of an archive, from a byte on; sent again it is kept once."""
    grower = grower_of(request)
    sent = request.read(MOST_PIECE + 1)
    if len(sent) > MOST_PIECE:
        most = MOST_PIECE // 1024**2
        return problem(413, "Too large", f"A piece has {most} MB at most; send less at once.")
    return ArrivedOut(bytes=take(grower, key, at, sent))


@router.post("/arriving/{uuid:key}/bring", response={200: BroughtOut, **PROBLEMS})
def bring(request: HttpRequest, key: UUID, really: bool = False) -> BroughtOut | HttpResponse:
    """Bring what has arrived into this account, or only tell what that would do."""
    grower = grower_of(request)
    try:
        with arrived(grower, key) as file:
            found = bring_in(grower, file, really)
    except BusyError as error:
        return _busy(error)
    if really:
        let_go(grower)
    return BroughtOut(**vars(found), done=really)
