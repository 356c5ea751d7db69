"""The API: one router an area."""

from server.accounts.api import router as accounts
from server.archive.api import router as archive
from server.choosing.api import router as choosing
from server.common.bodies import KeptParser
from server.common.problems import answer_with_problems
from server.common.versions import VersionedApi, answer_stale
from server.crops.api import router as crops
from server.devices.api import router as devices
from server.devices.door import router as door
from server.fixtures.api import router as fixtures
from server.logbook.api import calendar_router as calendar
from server.logbook.api import router as logbook
from server.power.api import router as power
from server.readings.api import router as readings
from server.review.api import router as review
from server.runs.api import router as runs
from server.spaces.api import router as spaces
from server.sums.api import router as sums

api = VersionedApi(title="Idle Canopy", version="1", docs_url=None, parser=KeptParser())
api.add_router("/accounts", accounts, tags=["accounts"])
api.add_router("/spaces", spaces, tags=["spaces"])
api.add_router("/fixtures", fixtures, tags=["fixtures"])
api.add_router("/crops", crops, tags=["crops"])
api.add_router("/runs", runs, tags=["runs"])
api.add_router("/runs", choosing, tags=["choosing"])
api.add_router("/devices", devices, tags=["devices"])
api.add_router("/door", door)
api.add_router("/runs", power, tags=["power"])
api.add_router("/readings", readings, tags=["readings"])
api.add_router("/logbook", logbook, tags=["logbook"])
api.add_router("/calendar", calendar)
api.add_router("/sums", sums, tags=["sums"])
api.add_router("/review", review, tags=["review"])
api.add_router("/archive", archive, tags=["archive"])
answer_with_problems(api)
answer_stale(api)
