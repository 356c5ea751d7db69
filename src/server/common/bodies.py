"""Reading what is sent: JSON whose every text can be kept."""

import json
from typing import Any, cast

from django.http import HttpRequest
from ninja.parser import Parser

from canopy.formats.reader import check_texts


class KeptParser(Parser):
    """JSON without NUL or halves of surrogate pairs; the schemas name what else is wrong."""

    def parse_body(self, request: HttpRequest) -> dict[str, Any]:
        found = cast(dict[str, Any], json.loads(request.body))
        check_texts(found, "What was sent")
        return found
