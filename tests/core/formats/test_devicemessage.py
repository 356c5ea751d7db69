"""Messages of devices: read one by one, refused with a reason, and written as they are read."""

import json
import re
from datetime import UTC, datetime, timedelta
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.formats.devicemessage import (
    MOST_MESSAGES,
    QUANTITIES,
    Reading,
    read_messages,
    write_reading,
    write_schedule,
    write_set,
)
from canopy.power.schedule import Switching

ROOT = Path(__file__).parents[3]
NOW = datetime(2026, 11, 25, 18, 1, tzinfo=UTC)
GOOD = {"id": "1", "at": "2026-11-25T18:00:00Z", "quantity": "power", "unit": "W", "value": 146.2}
SCHEMA = json.loads((ROOT / "docs/formats/device.schema.json").read_text(encoding="utf-8"))
DOC = (ROOT / "docs/formats/device.md").read_text(encoding="utf-8")


def read(*messages):
    return read_messages(json.dumps(messages[0] if len(messages) == 1 else messages), NOW)


def test_one_message_and_many():
    one = read(GOOD)
    assert one.readings == [(0, Reading("1", NOW - timedelta(minutes=1), "power", 146.2))]
    many = read(GOOD, {**GOOD, "id": "2", "channel": 2}, {**GOOD, "value": "x"})
    assert [(k, r.channel) for k, r in many.readings] == [(0, 1), (1, 2)]
    assert [(r.index, r.reason) for r in many.refused] == [(2, "unreadable")]
    assert many.count == 3


@pytest.mark.parametrize(
    ("changes", "reason", "words"),
    [
        ({"id": ""}, "unreadable", "id should be a text"),
        ({"id": 7}, "unreadable", "id should be a text"),
        ({"at": "2026-11-25T18:00:00"}, "unreadable", "with its offset"),
        ({"at": 5}, "unreadable", "with its offset"),
        ({"at": "0001-01-01T00:00:00+14:00"}, "unreadable", "with its offset"),
        ({"quantity": "mood"}, "quantity", "one of power"),
        ({"quantity": ["power"]}, "quantity", "one of power"),
        ({"unit": "kW"}, "unit", "nothing is converted"),
        ({"unit": None}, "unit", '"W"'),
        ({"value": True}, "unreadable", "a number"),
        ({"value": "146"}, "unreadable", "a number"),
        ({"value": -1}, "range", "from 0 to 100000"),
        ({"value": 10**400}, "range", "from 0"),
        ({"quantity": "switch", "unit": "", "value": 0.5}, "range", "0 or 1"),
        ({"at": "2026-10-25T18:00:00Z"}, "late", "over 30 days"),
        ({"at": "2026-11-25T18:06:01Z"}, "ahead", "5 minutes ahead"),
        ({"channel": 9}, "unreadable", "from 1 to 8"),
    ],
)
def test_what_is_refused_says_why(changes, reason, words):
    refused = read({**GOOD, **changes})
    assert not refused.readings
    assert refused.refused[0].reason == reason
    assert words in refused.refused[0].sentence


def test_edges_of_time_are_still_taken():
    for at in ("2026-10-26T18:01:00Z", "2026-11-25T18:06:00Z", "2026-11-25T19:00:00+01:00"):
        assert read({**GOOD, "at": at}).readings


@pytest.mark.parametrize("text", ["", "[", "NaN", '{"id": 1, "id": 2}', "[" * 5000, '"\\u0000"'])
def test_what_cannot_be_read_at_all(text):
    with pytest.raises(CanopyError):
        read_messages(text, NOW)


@pytest.mark.parametrize("text", ["3", "null", '"power"', "[[]]", "{}"])
def test_what_is_no_message(text):
    found = read_messages(text, NOW)
    assert [one.reason for one in found.refused] == ["unreadable"]
    assert not read_messages("[]", NOW).refused


def test_too_many_or_too_long():
    assert len(read(*[{**GOOD, "id": str(k)} for k in range(MOST_MESSAGES)]).readings) == 500
    with pytest.raises(CanopyError, match="500 at once"):
        read(*[GOOD] * (MOST_MESSAGES + 1))
    with pytest.raises(CanopyError, match="less at once"):
        read_messages(" " * 300_000, NOW)


def test_extra_fields_are_named():
    assert read({**GOOD, "battery": 3, "rssi": -60}).ignored == ["battery", "rssi"]


NUMBERS = st.floats(0, 1) | st.integers(0, 1)


@given(
    st.sampled_from(sorted(QUANTITIES)),
    NUMBERS,
    st.integers(1, 8),
    st.text(st.characters(categories=("L", "N")), min_size=1, max_size=80),
    st.integers(0, 29 * 86400),
)
def test_what_is_written_is_read_again(name, share, channel, known, ago_s):
    limits = QUANTITIES[name]
    value = limits.low + round(share) * (limits.high - limits.low)
    reading = Reading(known, NOW - timedelta(seconds=ago_s), name, float(value), channel)
    sent = write_reading(reading)
    jsonschema.validate(sent, SCHEMA)
    assert read(sent).readings == [(0, reading)]


WINDOWS = st.builds(
    Switching,
    st.integers(1, 8),
    st.integers(0, 1439),
    st.integers(0, 1439),
    st.integers(0, 240),
    st.floats(0, 100),
)


@given(st.lists(WINDOWS, max_size=16))
def test_a_schedule_is_read_back_in_the_shape_it_was_sent(windows):
    sent = write_schedule(windows)
    jsonschema.validate(sent, SCHEMA)
    assert read(sent).schedule == tuple(sorted(windows))


@pytest.mark.parametrize(
    "windows",
    [
        None,
        [{}],
        [{"on": "6:00", "off": "18:00"}],
        [{"on": "06:00", "off": "24:00"}],
        [{"on": "06:00", "off": "18:00", "ramp_min": 1.5}],
        [{"on": "06:00", "off": "18:00", "output_pct": 101}],
        [{"on": "06:00", "off": "18:00"}] * 17,
    ],
)
def test_schedules_that_cannot_be(windows):
    found = read({"command": "schedule", "windows": windows})
    assert found.schedule is None
    assert found.refused[0].sentence


def test_a_device_sends_no_commands_and_few_things_can_be_set():
    assert read({"command": "set", "quantity": "output", "value": 3}).refused
    assert write_set("output", 55)["value"] == 55
    assert write_set("switch", 0, 2)["channel"] == 2
    for wrong in (("power", 5.0), ("output", 101.0), ("switch", 0.5)):
        with pytest.raises(CanopyError):
            write_set(*wrong)


def test_the_document_lists_what_there_is_and_its_lines_work_as_printed():
    rows = dict(re.findall(r"^\| `(\w+)` \| (?:`([^`]*)`|none) \|", DOC, re.M))
    assert rows == {name: quantity.unit for name, quantity in QUANTITIES.items()}
    lines = re.findall(r"^(?:\{|\[\{).*[}\]]$", DOC, re.M)
    assert len(lines) >= 4
    for line in lines:
        if '"set"' in line:
            assert json.loads(line) == write_set("output", 55, 2)
            continue
        found = read_messages(line, NOW)
        assert not found.refused
        assert found.readings or found.schedule
        for each in json.loads(line) if line.startswith("[") else [json.loads(line)]:
            jsonschema.validate(each, SCHEMA)
