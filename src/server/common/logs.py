"""What the server writes down: a line of JSON each, to standard error, without secrets."""

import json
import logging
import re
from datetime import UTC, datetime

log = logging.getLogger("idle_canopy")

_SECRET = re.compile(
    r"(?i)(password|token|secret|sessionid|csrftoken|authorization|cookie)"
    r"([\"\'\s:=]+)(?:bearer\s+)?[^\s,;&\"\'}]+"
)


class Lines(logging.Formatter):
    """A record as one line of JSON: when, how bad, from where, what; what is secret is left out."""

    def format(self, record: logging.LogRecord) -> str:
        """Return the line."""
        words = record.getMessage()
        found = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "from": record.name,
            "what": _SECRET.sub(r"\1\2…", words),
        }
        if record.exc_info:
            found["trace"] = _SECRET.sub(r"\1\2…", self.formatException(record.exc_info))
        return json.dumps(found, ensure_ascii=False)
