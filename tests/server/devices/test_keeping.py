"""Rows and sums are the same in whichever order messages come; energy and curves against scipy."""

import random
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase
from scipy import integrate

from server.accounts.services import make_account
from server.devices.adapters.messages import Parcel
from server.devices.adapters.messages import Reading as Sent
from server.devices.models import Device, FiveMinutes, Hour, MessageId, Reading, Series, Unsummed
from server.devices.services import keeping, watching
from server.devices.services.intake import ms_of, take_in
from server.runs.demo import BOX_ROOM
from server.spaces.services import add_space
from tests.server.devices.conftest import message

NOW = datetime(2026, 11, 26, 12, 0, tzinfo=UTC)


def parcel(readings):
    return Parcel(readings=list(enumerate(readings)), count=len(readings))


def a_device(name="Plug"):
    grower = make_account(f"Ada {random.random()}", None)
    space = add_space(grower, BOX_ROOM)
    return Device.objects.create(owner=grower, name=name, kind="meter", space=space)


def rows(model, device):
    """What is kept of a device, its series by their quantity."""
    names = {s.pk: (s.quantity, s.channel) for s in Series.objects.filter(device=device)}
    fields = [f.name for f in model._meta.fields if f.name not in ("series", "pk")]
    found = model._default_manager.filter(series__in=names).values("series_id", *fields)
    return sorted((names[row["series_id"]], *(row[f] for f in fields)) for row in found)


SENT = st.builds(
    Sent,
    st.sampled_from([str(k) for k in range(12)]),
    st.integers(0, 7200).map(lambda s: NOW - timedelta(seconds=s * 5)),
    st.sampled_from(["power", "temperature"]),
    st.integers(0, 40).map(float),
    st.integers(1, 2),
)


class AnyOrder(TestCase):
    @settings(max_examples=30, deadline=None)
    @given(st.lists(SENT, max_size=25, unique_by=lambda r: r.id), st.randoms(), st.data())
    def test_doubled_and_late_messages_leave_the_same_rows_and_sums(self, sent, chance, data):
        plain, mixed = a_device(), a_device()
        if sent:
            take_in(plain, parcel(sent), NOW)
        keeping.sum_up()
        again = sent + data.draw(
            st.lists(st.sampled_from(sent), max_size=10) if sent else st.just([])
        )
        chance.shuffle(again)
        while again:
            many = chance.randint(1, 6)
            take_in(Device.objects.get(pk=mixed.pk), parcel(again[:many]), NOW)
            del again[:many]
            if chance.random() < 0.3:
                keeping.sum_up()
        keeping.sum_up()
        for model in (Reading, FiveMinutes, Hour):
            assert rows(model, plain) == rows(model, mixed)
        newest = [(s.quantity, s.channel, s.last_at, s.last_value) for s in plain.series.all()]
        assert sorted(newest) == sorted(
            (s.quantity, s.channel, s.last_at, s.last_value) for s in mixed.series.all()
        )
        assert not Unsummed.objects.exists()
        # the sums are those of the rows
        for model, width in ((FiveMinutes, 300_000), (Hour, 3_600_000)):
            total = {}
            for name, at, value in rows(Reading, plain):
                total.setdefault((name, at - at % width), []).append(value)
            expected = sorted(
                (name, at, len(v), min(v), max(v), sum(v)) for (name, at), v in total.items()
            )
            assert rows(model, plain) == [
                (name, at, n, low, high, pytest.approx(whole))
                for name, at, n, low, high, whole in expected
            ]


@pytest.fixture
def day(db):
    """A device with a day of 10-second watts, sent in parcels."""
    device = a_device()
    at = np.arange(0, 86_400, 10.0)
    watts = 150 * np.clip(np.minimum(at - 21_600, 64_800 - at) / 900, 0, 1) + 0.5
    first = NOW - timedelta(hours=24)
    sent = [
        Sent(str(k), first + timedelta(seconds=float(s)), "power", float(w))
        for k, (s, w) in enumerate(zip(at, watts))
    ]
    for k in range(0, len(sent), 500):
        take_in(device, parcel(sent[k : k + 500]), NOW)
    keeping.sum_up()
    return device, at, watts


def test_energy_and_curve_of_a_day_of_ten_second_watts(day):
    device, at, watts = day
    series = device.series.get()
    seconds, values = watching.readings(series, NOW - timedelta(hours=24), NOW)
    from canopy.power.metered import energy_of  # noqa: PLC0415 - the core's rule, on what is kept

    whole = integrate.trapezoid(watts, at) / 3.6e6
    assert energy_of(seconds, values).kwh == pytest.approx(whole, rel=1e-9)
    hours = Hour.objects.filter(series=series)
    mean = sum(row.total for row in hours) / sum(row.n for row in hours)
    assert mean == pytest.approx(watts.mean())
    curve = watching.curve(series, ms_of(NOW - timedelta(hours=24)), ms_of(NOW))
    assert 200 < len(curve.at_ms) <= 300
    assert (min(curve.low), max(curve.high)) == (watts.min(), watts.max())
    assert all(low <= mean <= high for low, mean, high in zip(curve.low, curve.mean, curve.high))
    near = watching.curve(
        series, ms_of(NOW - timedelta(hours=13)), ms_of(NOW - timedelta(hours=11))
    )
    assert near.mean == pytest.approx([150.5] * len(near.mean))


def test_what_is_old_goes_and_its_sums_stay(day):
    device, _, watts = day
    later = NOW + timedelta(days=30, hours=12)
    keeping.tidy(later)
    series = device.series.get()
    left = Reading.objects.filter(series=series)
    assert 0 < left.count() < len(watts)
    assert FiveMinutes.objects.count() == 288
    assert MessageId.objects.count() == left.count()
    # nothing can come between readings that are gone: their sums would be wrong
    late = Sent("late", NOW - timedelta(hours=20), "power", 9.0)
    taken = take_in(Device.objects.get(), parcel([late]), later)
    assert (taken.taken, taken.refused[0].reason) == (0, "late")
    before = list(Hour.objects.values_list())
    keeping.tidy(NOW + timedelta(days=500))
    assert not Reading.objects.exists()
    assert not FiveMinutes.objects.exists()
    assert not MessageId.objects.exists()
    assert list(Hour.objects.values_list()) == before
    # years later they can still be seen
    curve = watching.curve(series, ms_of(NOW - timedelta(days=200)), ms_of(NOW))
    assert max(curve.high) == watts.max()


def test_all_of_it_goes_with_its_grower(day):
    device, _, _ = day
    take_in(device, parcel([Sent("more", NOW, "temperature", 9.0)]), NOW)
    device.owner.delete()
    for model in (Device, Series, Reading, FiveMinutes, Hour, Unsummed, MessageId):
        assert not model._default_manager.exists()


def test_a_series_that_is_too_long_loses_its_oldest(day, monkeypatch):
    monkeypatch.setattr(keeping, "MOST_RAW", 2000)
    keeping.tidy(NOW)
    assert 1500 < Reading.objects.count() <= 2000
    assert FiveMinutes.objects.count() == 288


def test_two_readings_of_one_moment(db):
    device = a_device()
    for known, value in (("a", 5.0), ("b", 9.0), ("c", 7.0)):
        take_in(device, parcel([Sent(known, NOW, "power", value)]), NOW)
    assert Reading.objects.get().value == device.series.get().last_value == 9


def test_the_curve_over_the_api(grower, plug):
    assert grower("get", f"devices/{plug.id}/curve?quantity=power")[0] == 404
    for k in range(3):
        plug(message(k, value=10 * k, at=timezone.now() - timedelta(minutes=10 * k)))
    for hours, points in ((1, 3), (24, 3), (24 * 300, 2)):
        status, curve = grower("get", f"devices/{plug.id}/curve?quantity=power&hours={hours}")
        assert status == 200
        assert len(curve["at_ms"]) in range(1, points + 1)
        assert (min(curve["low"]), max(curve["high"]), curve["unit"]) == (0, 20, "W")
    assert grower("get", f"devices/{plug.id}/curve?quantity=mood")[0] == 422
    assert grower("get", f"devices/{plug.id}/curve?quantity=power&hours=0")[0] == 422
