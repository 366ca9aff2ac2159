"""Rides from files: GPX tracks, CSV rows, or a zip of these; sizes are checked before anything is unpacked."""

import csv
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from io import BytesIO, StringIO
from zipfile import BadZipFile, ZipFile

from lone_pike.core.bike.faults import Fault, InvalidInput, invalid
from lone_pike.core.messages import Message, Quantity, Raw, Unit, number
from lone_pike.core.wear.chain import MOST_KM
from lone_pike.core.wear.life import Day
from lone_pike.core.wear.rides import Ride, km
from lone_pike.formats.files.gpx_file import read_gpx
from lone_pike.formats.typed.dates import day_in

LARGEST_BYTES, MOST_FILES = 60_000_000, 400
"""Limits of one upload, packed or not; the rides of a season stay below them."""

ZIPPED = b"PK\x03\x04"
DAY_COLUMNS, KM_COLUMNS = ("date", "day", "time"), ("km", "distance", "distance km", "distance (km)")
MOST_NAME = 60


@dataclass(frozen=True)
class File:
    """An uploaded file: its name and its bytes."""

    name: str
    data: bytes


@dataclass(frozen=True)
class RidesRead:
    """The rides of several files, what is odd about them, and the files that contained none."""

    rides: tuple[Ride, ...]
    odd: tuple[Message, ...]
    faults: tuple[Fault, ...]


def read_rides(uploaded: Sequence[File], today: Day) -> RidesRead:
    """Reads the rides of all files; if one cannot be read, it is named and the others are read all the same.

    Raises: InvalidInput if there are no files, or too many.
    """
    rides, odd, faults = list[Ride](), list[Message](), list[Fault]()
    if not uploaded:
        raise invalid("files", Raw(None), Message("ride_files"))
    for file in _unpacked(uploaded, faults):
        try:
            found, said = _reader(file)(file.data)
        except InvalidInput as error:
            faults += [_named(file, fault) for fault in error.faults]
            continue
        late = [one for one in found if one.day > today]
        if late:
            faults.append(Fault(file.name[:MOST_NAME], Raw(late[0].day.isoformat()), Message("no_day_to_come")))
        rides += [one for one in found if one.day <= today]
        odd += [Message("in_file", file=file.name[:MOST_NAME], told=one) for one in said]
    return RidesRead(tuple(rides), tuple(odd), tuple(faults))


def _unpacked(uploaded: Sequence[File], faults: list[Fault]) -> list[File]:
    """The files, with those in a zip one by one. Raises: InvalidInput if there are too many, or they are too large
    together."""
    files, size = list[File](), 0
    for file in uploaded:
        try:
            files += _members(file, LARGEST_BYTES - size) if file.data.startswith(ZIPPED) else [file]
        except InvalidInput as error:
            faults += [_named(file, fault) for fault in error.faults]
        size = sum(len(one.data) for one in files)
        if len(files) > MOST_FILES:
            raise invalid("files", number(len(files)), Message("files_up_to", most=number(MOST_FILES)))
        if size > LARGEST_BYTES:
            raise _too_large(size)
    return files


def _members(file: File, left_bytes: int) -> list[File]:
    """The files in a zip, read no further than the limits allow. Raises: InvalidInput."""
    try:
        with ZipFile(BytesIO(file.data)) as opened:
            members = [one for one in opened.infolist() if not one.is_dir()]
            if len(members) > MOST_FILES:
                raise invalid("files", number(len(members)), Message("files_up_to", most=number(MOST_FILES)))
            unpacked = list[File]()
            for one in members:
                with opened.open(one) as inside:
                    data = inside.read(left_bytes + 1)
                left_bytes -= len(data)
                if left_bytes < 0:
                    raise _too_large(LARGEST_BYTES - left_bytes)
                unpacked.append(File(one.filename, data))
            return unpacked
    except (BadZipFile, RuntimeError, NotImplementedError, OSError, EOFError, ValueError) as error:
        problem = str(error)[:MOST_NAME]
        raise invalid("files", Message("broken_file", problem=problem), Message("a_whole_zip")) from None


def _too_large(size: int) -> InvalidInput:
    read, most = (Quantity(count, Unit.BYTES) for count in (size, LARGEST_BYTES))
    return invalid("files", Message("file_size", size=read), Message("up_to", most=most))


Reader = Callable[[bytes], tuple[list[Ride], list[Message]]]


def _reader(file: File) -> Reader:
    """The reader for a file, chosen by its first bytes, because names can be wrong."""
    return read_gpx if file.data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"<" else read_rows


def read_rows(data: bytes) -> tuple[list[Ride], list[Message]]:
    """Rides from rows with a day and a distance in km, under a line that names these columns.

    >>> rides, _ = read_rows(b"date;km;note\\n2026-03-01;42,5;tide road\\n")
    >>> rides[0].day.isoformat(), rides[0].km
    ('2026-03-01', 42.5)
    """
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise invalid("files", Message("no_rides_in_it"), Message("ride_files")) from None
    first, _, rest = text.partition("\n")
    mark = max(";\t,", key=first.count)
    names = [name.strip().strip('"').lower() for name in first.split(mark)]
    day_at, km_at = (_place_of(names, wanted) for wanted in (DAY_COLUMNS, KM_COLUMNS))
    if day_at is None or km_at is None:
        raise invalid("files", Raw(first[:MOST_NAME].strip() or None), Message("ride_columns"))
    try:
        rows = list(csv.reader(StringIO(rest), delimiter=mark))
    except csv.Error as error:
        raise invalid("files", Message("broken_file", problem=str(error)), Message("ride_columns")) from None
    rides = [_row(row, place, day_at, km_at) for place, row in enumerate(rows, 2) if any(row)]
    return [one for one in rides if one], []


def _place_of(names: Sequence[str], wanted: Sequence[str]) -> int | None:
    return next((names.index(one) for one in wanted if one in names), None)


def _row(row: list[str], place: int, day_at: int, km_at: int) -> Ride | None:
    """The ride in a row; None for a row without a distance, such as a reading. Raises: InvalidInput, naming the row."""
    texts = [row[at].strip() if at < len(row) else "" for at in (day_at, km_at)]
    if not texts[1]:
        return None
    day, figure = day_in(texts[0]), texts[1].replace(",", ".")
    plain = figure.replace(".", "", 1)
    far_km = float(figure) if plain.isascii() and plain.isdecimal() and len(plain) < 12 else -1.0
    if day is None or not 0 <= far_km <= MOST_KM:
        read = Message("in_row", row=number(place), text=" ".join(texts)[:MOST_NAME])
        raise invalid("files", read, Message("a_day_and_km", most=km(MOST_KM)))
    return Ride(day, far_km)


def _named(file: File, fault: Fault) -> Fault:
    return Fault(file.name[:MOST_NAME] or fault.field, fault.read, fault.allowed, fault.hint)
