"""Photos: what is sent is checked, shrunk, stripped of the place, and shown to its owner alone."""

import uuid
from io import BytesIO

import pytest
from django.conf import settings
from PIL import Image

from server.logbook.adapters import photo as reading
from server.logbook.models import Photo
from server.logbook.services.photos import file_of
from tests.server.logbook.test_entries import begun, log  # noqa: F401 - fixtures


def picture(size=(640, 480), kind="JPEG", mode="RGB", exif=None, colour="green"):
    out = BytesIO()
    made = Image.new(mode, size, colour)
    made.save(out, kind, **({} if exif is None else {"exif": exif}))
    return out.getvalue()


def with_a_place():
    """A photo that says where and with what it was taken, lying on its side."""
    exif = Image.Exif()
    exif[0x0112] = 6
    exif[0x010F] = "A maker"
    exif.get_ifd(0x8825)[1] = "N"
    exif.get_ifd(0x8825)[2] = (51.0, 30.0, 12.0)
    return picture((640, 480), exif=exif.tobytes())


@pytest.fixture(autouse=True)
def data(tmp_path, monkeypatch):
    monkeypatch.setattr(settings, "DATA", tmp_path)
    return tmp_path


@pytest.fixture
def send(grower, log):  # noqa: F811 - a fixture
    def send(content, key=None, kind="image/jpeg", note="front row", who=grower):
        reply = who.client.post(
            f"/api/{log}/photos?note={note}",
            content,
            content_type=kind,
            headers={"Idempotency-Key": str(key or uuid.uuid4())},
        )
        return reply.status_code, reply.json()

    return send


def shown(grower, entry, small=False):
    path = f"/api/logbook/photos/{int(entry['values']['photo'])}"
    return grower.client.get(path + ("?small=true" if small else ""))


def test_a_photo_stands_in_the_log_upright_and_without_its_place(grower, log, send, data):  # noqa: F811
    sent = with_a_place()
    assert b"A maker" in sent
    status, entry = send(sent)
    assert (status, entry["kind"], entry["text"]) == (201, "photo", "front row")
    reply = shown(grower, entry)
    assert (reply.status_code, reply["Content-Type"]) == (200, "image/jpeg")
    assert "private" in reply["Cache-Control"]
    kept = Image.open(BytesIO(reply.content))
    assert kept.size == (480, 640)
    assert not kept.getexif()
    assert b"A maker" not in reply.content
    small = Image.open(BytesIO(shown(grower, entry, small=True).content))
    assert max(small.size) == 320
    assert grower("get", f"{log}/entries")[1]["entries"][0]["key"] == entry["key"]
    # for nobody else on this machine either
    path = file_of(Photo.objects.get(), False)
    assert data in path.parents
    assert path.stat().st_mode & 0o077 == 0


def test_sent_twice_it_is_kept_once_and_taken_out_it_can_come_back(grower, log, send):  # noqa: F811
    key = uuid.uuid4()
    first, again = send(picture(), key), send(picture(), key)
    assert first == again
    assert Photo.objects.count() == 1
    entry = first[1]
    gone = {**{k: entry[k] for k in ("kind", "at", "values", "text")}, "key": str(uuid.uuid4())}
    gone |= {"replaces": entry["key"], "gone": True}
    assert grower("post", f"{log}/entries", {"entries": [gone]})[0] == 201
    assert grower("get", f"{log}/entries")[1]["entries"] == []
    # its file stays: what is taken out can be brought back
    assert shown(grower, entry).status_code == 200


def test_large_ones_are_shrunk_and_clear_ones_stand_on_white(grower, send):
    status, entry = send(picture((4000, 3000)))
    assert status == 201
    assert Image.open(BytesIO(shown(grower, entry).content)).size == (1600, 1200)
    clear = picture((50, 40), "PNG", "RGBA", colour=(0, 0, 0, 0))
    _, entry = send(clear, kind="image/png")
    kept = Image.open(BytesIO(shown(grower, entry).content))
    assert kept.mode == "RGB"
    assert min(kept.getpixel((20, 20))) > 250


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"no picture at all",
        picture()[:200],
        picture(kind="GIF"),
        b"\x89PNG\r\n\x1a\n" + b"\0" * 99,
    ],
    ids=["empty", "text", "cut short", "another kind", "a header alone"],
)
def test_what_is_no_photo_is_refused_in_a_sentence_and_nothing_is_kept(grower, send, data, content):
    status, refused = send(content)
    assert status == 422
    assert "no photo that can be read" in refused["detail"]
    assert Photo.objects.count() == 0
    assert [path for path in data.rglob("*") if path.is_file()] == []


def test_too_many_pixels_are_refused_before_they_are_opened(grower, send, monkeypatch):
    monkeypatch.setattr(reading, "MOST_PIXELS", 1000)
    status, refused = send(picture((100, 100)))
    assert (status, "megapixels" in refused["detail"]) == (422, True)


def test_too_many_bytes_are_refused(grower, send, monkeypatch):
    from server.logbook import api  # noqa: PLC0415 - only here

    monkeypatch.setattr(api, "MOST_BYTES", 1000)
    status, refused = send(b"x" * 2000)
    assert (status, "take it smaller" in refused["detail"]) == (413, True)


def test_one_at_a_time(grower, send, monkeypatch):
    monkeypatch.setattr(reading, "WAIT_S", 0.01)
    with reading.ONE_AT_A_TIME:
        status, refused = send(picture())
    assert (status, refused["detail"][:12]) == (503, "Other photos")
    assert send(picture())[0] == 201


def test_another_growers_photos_are_not_there(grower, stranger, log, send):  # noqa: F811
    _, entry = send(picture())
    assert shown(stranger, entry).status_code == 404
    assert send(picture(), who=stranger)[0] == 404
    # nor can one be put into a log it is not of
    status, refused = grower(
        "post",
        f"{log}/entries",
        {
            "entries": [
                {
                    "key": str(uuid.uuid4()),
                    "kind": "photo",
                    "at": entry["at"],
                    "values": {"photo": int(entry["values"]["photo"]) + 1},
                }
            ]
        },
    )
    assert (status, "none of this run's" in refused["detail"]) == (422, True)


def test_where_the_file_is_gone_it_says_so(grower, send):
    _, entry = send(picture())
    file_of(Photo.objects.get(), False).unlink()
    reply = shown(grower, entry)
    assert (reply.status_code, "missing" in reply.json()["detail"]) == (404, True)
