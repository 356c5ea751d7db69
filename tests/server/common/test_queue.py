"""Few reckon at a time, some wait, others come back; what nobody waits for is given up."""

import threading
import time

import pytest
from django.http import HttpResponse

from canopy.parallel import at_once
from canopy.wanted import NotWanted, check_wanted
from server.common import queue
from server.common.queue import Full, Queue, Turnstile, _stile


def here():
    return True


class Held:
    """Threads that stay inside a turnstile until they are let go."""

    def __init__(self, stile, count):
        self.free = threading.Event()
        self.threads = [threading.Thread(target=self._go, args=(stile,)) for _ in range(count)]
        self.inside = threading.Semaphore(0)
        for thread in self.threads:
            thread.start()
        for _ in range(count):
            assert self.inside.acquire(timeout=5)

    def _go(self, stile):
        with stile.turn(here):
            self.inside.release()
            self.free.wait(20)

    def let_go(self):
        self.free.set()
        for thread in self.threads:
            thread.join()


def test_no_more_than_two_are_inside_and_the_next_has_its_turn():
    stile, most, now, guard = Turnstile(2, 10, 10), [0], [0], threading.Lock()

    def work(_):
        with stile.turn(here):
            with guard:
                now[0] += 1
                most[0] = max(most[0], now[0])
            time.sleep(0.02)
            with guard:
                now[0] -= 1

    threads = [threading.Thread(target=work, args=(i,)) for i in range(9)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert most == [2]


def test_who_finds_the_queue_full_or_waits_too_long_is_sent_away():
    stile = Turnstile(1, 0, 10)
    held = Held(stile, 1)
    with pytest.raises(Full), stile.turn(here):
        pass
    held.let_go()
    patient = Turnstile(1, 5, 0.3)
    held = Held(patient, 1)
    with pytest.raises(Full), patient.turn(here):
        pass
    held.let_go()
    with patient.turn(here):
        pass


def test_who_goes_away_gives_up_the_place_in_the_queue():
    stile = Turnstile(1, 1, 20)
    held = Held(stile, 1)
    start = time.monotonic()
    with pytest.raises(NotWanted), stile.turn(lambda: time.monotonic() - start < 0.3):
        pass
    assert time.monotonic() - start < 5
    held.let_go()
    with stile.turn(here):
        pass


def test_a_full_queue_answers_503_and_light_requests_pass(rf, monkeypatch):
    stile = Turnstile(1, 0, 1)
    monkeypatch.setitem(queue.STILES, "heavy", stile)
    answers = Queue(lambda request: HttpResponse(b"well"))
    held = Held(stile, 1)
    busy = answers(rf.get("/api/runs/3/season"))
    assert (busy.status_code, busy["Content-Type"]) == (503, "application/problem+json")
    assert busy["Retry-After"] == "2"
    assert answers(rf.get("/api/spaces")).status_code == 200
    assert answers(rf.post("/api/runs/3/bench")).status_code == 200
    held.let_go()
    assert answers(rf.get("/api/runs/3/season")).status_code == 200


@pytest.mark.parametrize(
    ("path", "name"),
    [
        ("/api/runs/3/season", "heavy"),
        ("/api/runs/3/season/table", "heavy"),
        ("/api/runs/3/shelf", "heavy"),
        ("/api/runs/3/stages/4/opinions", "heavy"),
        ("/api/readings/runs/3/fits/try", "heavy"),
        ("/api/review/runs/3", "heavy"),
        ("/api/runs/3/bench", "quick"),
        ("/api/runs/3/stages/4/bench", "quick"),
        ("/api/runs", None),
        ("/api/runs/3/stages/4/setting", None),
        ("/api/accounts/session", None),
        ("/api/door/messages", None),
        ("/", None),
    ],
)
def test_what_waits_for_what(path, name):
    assert _stile(path) is (None if name is None else queue.STILES[name])


def test_work_nobody_waits_for_is_given_up_in_all_its_threads(rf):
    gone = threading.Event()
    rounds = []

    def work(number):
        for _ in range(2000):
            rounds.append(number)
            if len(rounds) == 20:
                gone.set()
            check_wanted()
            time.sleep(0.001)

    request = rf.get("/api/runs/3/season")
    request.META["waitress.client_disconnected"] = gone.is_set
    answers = Queue(lambda _: HttpResponse(str(at_once(work, [1, 2]))))
    assert answers(request).status_code == 503
    assert len(rounds) < 200
    # and whoever comes next finds the place free
    assert Queue(lambda _: HttpResponse(b"well"))(rf.get("/api/runs/3/season")).status_code == 200
