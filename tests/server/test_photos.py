"""Photos: kept once by their hash, only pictures, silent about where they were taken, shown to the company alone."""

from __future__ import annotations

import random
from hashlib import sha256
from io import BytesIO
from typing import Any

import pytest
from PIL import Image
from PIL.ExifTags import IFD

from fentro_server.api import photos as api
from fentro_server.photos.models import Photo
from tests.server.conftest import House, add, new_entry, signed_in


def picture(form: str = "JPEG", size: tuple[int, int] = (64, 48), seed: int = 1, place: bool = False) -> bytes:
    draw = random.Random(seed)
    image = Image.new("RGB", size, tuple(draw.randrange(256) for _ in range(3)))
    exif = Image.Exif()
    if place:
        exif.get_ifd(IFD.GPSInfo)[1] = "N"
    written = BytesIO()
    image.save(written, form, exif=exif)
    return written.getvalue()


def keep(person: Any, house: House, content: bytes, digest: str = "", kind: str = "image/jpeg") -> Any:
    name = digest or sha256(content).hexdigest()
    return signed_in(person).put(f"/api/v1/visits/{house.visit.pk}/photos/{name}", content, content_type=kind)


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_a_photo_is_kept_once_and_shown_as_it_came(ours: House, theirs: House, form: str) -> None:
    content, person = picture(form), ours.people["technician"]
    for _ in range(2):
        assert keep(person, ours, content).json() == {"sha256": sha256(content).hexdigest()}
    assert Photo.objects.count() == 1
    path = f"/api/v1/photos/{sha256(content).hexdigest()}"
    shown = signed_in(ours.people["viewer"]).get(path)
    assert (shown.content, shown["Content-Type"]) == (content, f"image/{form.lower()}")
    assert shown["X-Content-Type-Options"] == "nosniff"
    assert "immutable" in shown["Cache-Control"]
    assert signed_in(theirs.people["lead"]).get(path).status_code == 404
    assert keep(theirs.people["technician"], theirs, content).status_code == 200, "each company keeps its own"
    assert Photo.objects.count() == 2


@pytest.mark.parametrize(
    ("content", "digest", "path"),
    [
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>", "", "photo"),
        (b"", "", "photo"),
        (picture()[:400], "", "photo"),
        (picture("GIF"), "", "photo"),
        (picture(size=(5_000, 20)), "", "photo"),
        (picture(place=True), "", "photo"),
        (picture(), "0" * 64, "digest"),
        (picture(), "no-hash", "digest"),
    ],
)
def test_what_is_no_photo_to_keep_is_refused(ours: House, content: bytes, digest: str, path: str) -> None:
    said = keep(ours.people["technician"], ours, content, digest)
    assert said.status_code == 422
    assert said.json()["refusals"][0]["path"] == path
    assert not Photo.objects.exists()


def test_limits_and_who_may(ours: House, theirs: House, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(api, "MOST_OF_A_VISIT", 2)
    person = ours.people["technician"]
    assert [keep(person, ours, picture(seed=seed)).status_code for seed in range(3)] == [200, 200, 422]
    monkeypatch.setattr(api, "MOST_BYTES", 10)
    assert "3 MB" in keep(ours.people["lead"], ours, picture(seed=9)).json()["detail"]
    assert keep(ours.people["viewer"], ours, picture(seed=4)).status_code == 403
    assert keep(theirs.people["lead"], ours, picture(seed=5)).status_code == 404


def test_an_entry_names_the_photo_and_what_it_shows(ours: House) -> None:
    client, digest = signed_in(ours.people["technician"]), "ab" * 32
    good = new_entry("photo", {"sha256": digest, "of": "station", "station": "return"})
    bad = [
        new_entry("photo", {"sha256": "xyz"}),
        new_entry("photo", {"sha256": digest, "of": "station"}),
        new_entry("photo", {"sha256": digest, "of": "nameplate", "station": "return"}),
        new_entry("photo", {"sha256": digest, "of": "station", "station": "moon"}),
    ]
    answer = add(client, ours.visit, good, *bad).json()
    assert answer["accepted"] == [good["id"]]
    assert [each["refusal"]["path"] for each in answer["refused"]] == ["body.sha256", *["body.station"] * 3]
