"""What is due as a calendar: read back by an independent reader, revocable, for nobody else."""

from datetime import date, timedelta

import pytest
from django.test import Client
from icalendar import Calendar

from canopy.formats.calendar import Entry, due_calendar
from server.common.allowance import STRANGERS
from server.logbook import api
from tests.server.logbook.test_entries import begun, log  # noqa: F401 - fixtures


@pytest.fixture(autouse=True)
def patient(monkeypatch):
    """Nobody has asked yet."""
    monkeypatch.setattr(STRANGERS, "_buckets", type(STRANGERS._buckets)())
    monkeypatch.setattr(api.ASKED, "_buckets", type(api.ASKED._buckets)())


def test_an_address_is_told_once_read_by_anyone_and_taken_back(grower, log):  # noqa: F811
    assert grower("get", "logbook/feed")[1]["made_at"] is None
    made = grower("put", "logbook/feed")[1]
    assert made["address"].startswith("/api/calendar/")
    assert grower("get", "logbook/feed")[1]["address"] is None
    reply = Client().get(made["address"])
    assert (reply.status_code, reply["Content-Type"]) == (200, "text/calendar; charset=utf-8")
    found = Calendar.from_ical(reply.content)
    events = found.walk("VEVENT")
    summaries = [str(event["SUMMARY"]) for event in events]
    assert any("Cuttings begins" in text for text in summaries)
    assert all(event.decoded("DTSTART") >= date.today() for event in events)
    uids = [str(event["UID"]) for event in events]
    assert len(set(uids)) == len(uids)
    # asked again the same things go by the same names
    again = Calendar.from_ical(Client().get(made["address"]).content)
    assert [str(event["UID"]) for event in again.walk("VEVENT")] == uids
    # a new address is the end of the one before, and none is the end of all
    other = grower("put", "logbook/feed")[1]["address"]
    assert Client().get(made["address"]).status_code == 404
    assert Client().get(other).status_code == 200
    grower("delete", "logbook/feed")
    assert Client().get(other).status_code == 404


def test_it_tells_nothing_of_others_and_nothing_without_its_secret(grower, stranger, log):  # noqa: F811
    theirs = stranger("put", "logbook/feed")[1]["address"]
    assert Calendar.from_ical(Client().get(theirs).content).walk("VEVENT") == []
    assert Client().get("/api/calendar/guessed.ics").status_code == 404


def test_too_often_is_told_when_to_come_again(grower):
    address = grower("put", "logbook/feed")[1]["address"]
    statuses = [Client().get(address).status_code for _ in range(25)]
    assert statuses[0] == 200
    assert statuses[-1] == 429


def test_a_changed_clock_moves_no_day():
    # the clocks change on 2026-10-25 in most of Europe
    days = [date(2026, 10, 24) + timedelta(days=k) for k in range(4)]
    entries = [
        Entry(f"x-{k}", day, "Raise the lamp; then look, twice", "") for k, day in enumerate(days)
    ]
    from datetime import UTC, datetime  # noqa: PLC0415 - only here

    text = due_calendar(entries, "Due", datetime(2026, 10, 24, tzinfo=UTC))
    found = Calendar.from_ical(text)
    assert [event.decoded("DTSTART") for event in found.walk("VEVENT")] == days
    assert [event.decoded("DTEND") for event in found.walk("VEVENT")] == [
        day + timedelta(days=1) for day in days
    ]
    assert str(found.walk("VEVENT")[0]["SUMMARY"]) == "Raise the lamp; then look, twice"
    # RFC 7986 asks for a duration as RFC 5545 writes it
    assert b"REFRESH-INTERVAL;VALUE=DURATION:PT6H\r\n" in text
