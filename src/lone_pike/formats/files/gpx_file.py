"""GPX tracks: how far each one goes and when. They are read point by point, so that a large file needs little memory.

A document type is refused, because it can define entities that fetch files or expand without end.
"""

import datetime
from dataclasses import dataclass, field
from xml.parsers import expat

import numpy as np

from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import Array
from lone_pike.core.messages import Message, Raw, number
from lone_pike.core.wear.rides import Ride, km

EARTH_KM = 6371.0088
SECONDS_AN_HOUR = 3600.0
TIME_LETTERS = 19
"""The length of 2026-03-01T08:00:00. What follows is cut off, because the time is kept in the rider's own zone."""


@dataclass
class Track:
    """A track: the places and times of its points, the times also in seconds if every point has one, and where its
    segments begin."""

    latitudes: list[float] = field(default_factory=list)
    longitudes: list[float] = field(default_factory=list)
    times: list[str] = field(default_factory=list)
    begins: list[int] = field(default_factory=list)
    seconds: Array | None = None


@dataclass(frozen=True)
class Measured:
    """How far a track goes, km; the number of its gaps and the km across them; and how many jumps were left out."""

    km: float
    gaps: int
    gap_km: float
    jumps: int


def read_gpx(data: bytes) -> tuple[list[Ride], list[Message]]:
    """The rides of a GPX file, one for each track, and what is odd about them. Raises: InvalidInput if it is not
    GPX."""
    rides, said, timeless = list[Ride](), list[Message](), 0
    tracks = [one for one in _tracks(data) if one.latitudes]
    if not tracks:
        raise invalid("files", Message("no_rides_in_it"), Message("ride_files"))
    for track in tracks:
        times = [one for one in track.times if one]
        if not times:
            timeless += 1
            continue
        found = measure(track)
        rides.append(Ride(_day(times[0]), round(found.km, 3), min(times[0], times[-1]), max(times[0], times[-1])))
        if found.gaps:
            said.append(Message("track_gaps", gaps=number(found.gaps), across=km(found.gap_km)))
        if found.jumps:
            said.append(Message("track_jumps", jumps=number(found.jumps)))
    if timeless:
        said.append(Message("track_without_time", tracks=number(timeless)))
    return rides, said


def measure(track: Track) -> Measured:
    """How far a track goes along its segments, without the gaps between them and without jumps.

    Equation: a great circle from point to point. Source: model, section 9.
    """
    latitude, longitude = np.radians(track.latitudes), np.radians(track.longitudes)
    half = np.sin(np.diff(latitude) / 2) ** 2
    half += np.cos(latitude[:-1]) * np.cos(latitude[1:]) * np.sin(np.diff(longitude) / 2) ** 2
    steps_km = 2 * EARTH_KM * np.arcsin(np.minimum(np.sqrt(half), 1.0))
    is_within = np.ones(len(steps_km), dtype=bool)
    is_within[[at - 1 for at in track.begins if 0 < at <= len(steps_km)]] = False
    hours = np.inf if track.seconds is None else np.maximum(np.abs(np.diff(track.seconds)), 1.0) / SECONDS_AN_HOUR
    is_jump = is_within & (steps_km > limit("ride_speed") * hours)
    is_gap = is_within & ~is_jump & (steps_km > limit("ride_gap"))
    counted = float(steps_km[is_within & ~is_jump].sum())
    return Measured(counted, int(is_gap.sum()), float(steps_km[is_gap].sum()), int(is_jump.sum()))


def _day(time: str) -> datetime.date:
    return datetime.date.fromisoformat(time[:10])


class _NoGpx(Exception):
    """Raised for something that no track has; its text says what."""


def _tracks(data: bytes) -> list[Track]:
    """The tracks of a file, read with an event parser. Raises: InvalidInput."""
    parser = expat.ParserCreate()
    parser.buffer_text = True
    reading = _Reading(parser)
    parser.StartDoctypeDeclHandler = reading.doctype
    parser.StartElementHandler = reading.root
    try:
        parser.Parse(data, True)
        return [_timed(track) for track in reading.tracks]
    except _NoGpx as error:
        raise invalid("files", Raw(str(error)), Message("a_gpx")) from None
    except expat.ExpatError as error:
        raise invalid("files", Message("broken_file", problem=str(error)), Message("a_gpx")) from None
    except (ValueError, KeyError) as error:
        raise invalid("files", Raw(str(error)[:60]), Message("a_gpx_point")) from None
    finally:
        reading.let_go()


def _timed(track: Track) -> Track:
    """The track with its times cut to the second. Raises: ValueError if a place or a time cannot be read."""
    track.times = [one.strip()[:TIME_LETTERS] for one in track.times]
    known = [one for one in track.times if one]
    short = next((one for one in known if len(one) < TIME_LETTERS), None)
    if short is not None:
        raise ValueError(short)
    seconds = np.array(known, dtype="datetime64[s]").astype(float)
    track.seconds = seconds if len(known) == len(track.times) else None
    for values, most in ((track.latitudes, 90.0), (track.longitudes, 180.0)):
        if values and not -most <= min(values) <= max(values) <= most:
            raise ValueError(str(max(values, key=abs)))
    return track


class _Reading:
    """The handlers of the parser: it calls one for the start of each element, and one for text that is a point's
    time."""

    def __init__(self, parser: expat.XMLParserType) -> None:
        self.parser, self.tracks, self.is_reading = parser, list[Track](), False

    def doctype(self, *_: object) -> None:
        """Refuses a document type without reading it."""
        raise _NoGpx("DOCTYPE")

    def root(self, name: str, _: dict[str, str]) -> None:
        """Checks the first element, which says what the file is."""
        if name.rpartition(":")[2] != "gpx":
            raise _NoGpx(f"<{name[:40]}>")
        self.parser.StartElementHandler = self.element

    def element(self, name: str, attributes: dict[str, str]) -> None:
        """Handles the start of an element."""
        if self.is_reading:
            self.parser.CharacterDataHandler, self.is_reading = None, False
        if name.endswith("trkpt"):
            track = self.tracks[-1]
            track.latitudes.append(float(attributes["lat"]))
            track.longitudes.append(float(attributes["lon"]))
            track.times.append("")
        elif name.endswith("time") and self.tracks and self.tracks[-1].times:
            self.parser.CharacterDataHandler, self.is_reading = self.text, True
        elif name.endswith("trkseg"):
            self._track().begins.append(len(self._track().latitudes))
        elif name.endswith("trk"):
            self.tracks.append(Track())

    def text(self, text: str) -> None:
        """Handles a part of the text of a time."""
        self.tracks[-1].times[-1] += text

    def let_go(self) -> None:
        """Breaks the reference cycle with the parser, so that both are freed at once."""
        self.parser.StartElementHandler = self.parser.CharacterDataHandler = None
        self.parser.StartDoctypeDeclHandler = None

    def _track(self) -> Track:
        if not self.tracks:
            raise _NoGpx("<trkseg>")
        return self.tracks[-1]
