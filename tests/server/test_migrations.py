"""Databases of earlier versions open with nothing lost."""

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from server.runs.demo import make_demo


@pytest.mark.django_db(transaction=True)
def test_lamps_hung_before_there_were_arrangements_hang_where_they_did():
    make_demo()
    executor = MigrationExecutor(connection)
    old = executor.migrate([("runs", "0003_season")]).apps
    runs = list(old.get_model("runs", "Run").objects.order_by("pk"))
    lamps = old.get_model("runs", "RunLamp").objects
    for position, x_cm in enumerate((25.0, 95.0)):
        lamps.create(
            run=runs[0],
            fixture_id=runs[0].fixture_id,
            position=position,
            x_cm=x_cm,
            y_cm=18.0,
            tilt_deg=5.0,
            bars_off=[1],
        )
    executor = MigrationExecutor(connection)
    new = executor.migrate(executor.loader.graph.leaf_nodes()).apps
    arrangement = new.get_model("runs", "Arrangement").objects.get()
    assert (arrangement.run_id, arrangement.space_id, arrangement.fixture_id) == (
        runs[0].pk,
        runs[0].space_id,
        runs[0].fixture_id,
    )
    kept = arrangement.lamps.order_by("position").values_list("x_cm", "tilt_deg", "bars_off")
    assert list(kept) == [(25.0, 5.0, [1]), (95.0, 5.0, [1])]
