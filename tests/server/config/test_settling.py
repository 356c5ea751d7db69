"""A server just started: what the program consists of is not looked through again and again."""

import gc

from server.config import settling


def test_what_is_loaded_is_no_rubbish_to_look_through(monkeypatch):
    order = []
    monkeypatch.setattr(settling, "load_sun", lambda: order.append(gc.get_freeze_count()))
    before = gc.get_freeze_count()
    try:
        settling.settle()
        # what loads late is among it
        assert order == [before]
        assert gc.get_freeze_count() - before > 100_000
        assert len(gc.get_objects()) < 10_000
    finally:
        gc.unfreeze()
