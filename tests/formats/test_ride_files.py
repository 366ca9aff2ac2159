"""Rides from files: how far tracks go beside another reader, gaps and jumps, zips, and what is no file of rides."""

import io
import tracemalloc
import zipfile
from datetime import date, datetime, timedelta
from math import sin

import gpxpy
import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.formats.files.ride_files import File, read_rides
from tests.bikes import said, told

TODAY = date(2026, 11, 1)
HEAD = '<?xml version="1.0"?><gpx version="1.1" creator="made up" xmlns="http://www.topografix.com/GPX/1/1">'
Point = tuple[float, float, str]


def track(*segments: list[Point]) -> bytes:
    """A file with one track."""
    rows = [
        f'<trkpt lat="{lat}" lon="{lon}"><ele>3</ele>{f"<time>{time}</time>" if time else ""}</trkpt>'
        for lat, lon, time in [point for segment in segments for point in segment]
    ]
    inside, at = "", 0
    for segment in segments:
        inside += "<trkseg>" + "".join(rows[at : at + len(segment)]) + "</trkseg>"
        at += len(segment)
    return f"{HEAD}<metadata><time>2020-01-01T00:00:00Z</time></metadata><trk>{inside}</trk></gpx>".encode()


def ride(begin: str = "2026-03-02T08:00:00", points: int = 200) -> list[Point]:
    start = datetime.fromisoformat(begin)
    return [
        (54 + i * 1e-4, 8 + 0.01 * sin(i / 30), f"{start + timedelta(seconds=4 * i):%Y-%m-%dT%H:%M:%SZ}")
        for i in range(points)
    ]


def test_a_track_is_as_long_as_another_reader_finds_and_has_its_day_and_times() -> None:
    data = track(ride()[:120], ride()[130:])
    (found,) = read_rides([File("a.gpx", data)], TODAY).rides
    assert found.km == pytest.approx(gpxpy.parse(data.decode()).length_2d() / 1000, rel=2e-3)
    assert found.km == round(found.km, 3), "to a metre"
    assert (found.day, found.began, found.ended) == (date(2026, 3, 2), "2026-03-02T08:00:00", "2026-03-02T08:13:16")


def test_gaps_and_jumps_are_told_and_a_jump_is_not_ridden() -> None:
    points = ride(points=60)
    plain = read_rides([File("a.gpx", track(points))], TODAY).rides[0].km
    jumped = [*points[:30], (55.5, 8.0, points[30][2]), *points[30:]]
    read = read_rides([File("jump.gpx", track(jumped))], TODAY)
    assert read.rides[0].km == pytest.approx(plain, abs=0.1) and "Jumps left out: 2" in said(read.odd[0])
    gap = [(54.0, 8.0, "2026-03-02T08:00:00Z"), (54.1, 8.0, "2026-03-02T10:00:00Z")]
    read = read_rides([File("gap.gpx", track(gap))], TODAY)
    assert read.rides[0].km == pytest.approx(11.1, abs=0.1) and "Gaps: 1, counted straight across as 11 km" in said(
        read.odd[0]
    )
    timeless = read_rides([File("t.gpx", track([(54, 8, ""), (54.1, 8, "")]))], TODAY)
    assert not timeless.rides and "Tracks without a time, left out: 1" in said(timeless.odd[0])


def zipped(members: dict[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    return out.getvalue()


def test_several_files_come_in_at_once_and_a_bad_one_is_named_beside_the_good() -> None:
    rows = b"Date,Distance (km)\n2026-03-05,41.5\n2026-03-06,\n"
    files = [
        File("rides.zip", zipped({"a.gpx": track(ride()), "b.csv": rows})),
        File("c.gpx", b"<html/>"),
        File("d", b""),
    ]
    read = read_rides(files, TODAY)
    assert [one.km for one in read.rides][1:] == [41.5] and len(read.rides) == 2
    assert [fault.field for fault in read.faults] == ["c.gpx", "d"]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b'<!DOCTYPE gpx [<!ENTITY a "b">]><gpx>&a;</gpx>', "DOCTYPE"),
        (b'<!DOCTYPE gpx SYSTEM "file:///etc/passwd"><gpx/>', "DOCTYPE"),
        (HEAD.encode() + b"<trk>", "a GPX file"),
        (track([(99.0, 8, "2026-03-02T08:00:00Z")]), "99.0"),
        (track([(54.0, 8, "yesterday")]), "yesterday"),
        (HEAD.encode() + b'<trk><trkseg><trkpt lat="x" lon="8"/></trkseg></trk></gpx>', "points with lat"),
        (HEAD.encode() + b"<wpt/></gpx>", "a file without rides"),
        (track([(54.0, 8, "2027-03-02T08:00:00Z"), (54.1, 8, "2027-03-02T09:00:00Z")]), "rides up to today"),
        (b"when;where\n", "date and km"),
        (b"date;km\n2026-03-05;fast\n", "row 2, 2026-03-05 fast"),
        (b"date;km\n2026-03-05;-4\n", "row 2"),
        (b"\xff\xfe\x00\x01", "a file without rides"),
        (b"PK\x03\x04 and no more", "a whole zip"),
    ],
)
def test_what_is_no_file_of_rides_is_told_in_words(data: bytes, says: str) -> None:
    read = read_rides([File("mine", data)], TODAY)
    assert not read.rides and says in told(InvalidInput(read.faults)) and read.faults[0].field == "mine"


def test_a_zip_that_swells_is_refused_before_it_fills_anything() -> None:
    bomb = zipped({f"{i}.gpx": bytes(9_000_000) for i in range(10)})
    assert len(bomb) < 200_000
    tracemalloc.start()
    read = read_rides([File("bomb.zip", bomb)], TODAY)
    most = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert "up to 60 MB" in told(InvalidInput(read.faults)) and most < 140_000_000
    with pytest.raises(InvalidInput, match="files_up_to"):
        read_rides([File("a.zip", zipped({f"{i}": b"" for i in range(399)}))] + [File("b", b"x")] * 3, TODAY)
