"""The ledger itself: what the schema holds, what an audit finds, and how a bin of before becomes one."""

import json
import sqlite3
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest

from lone_pike.core.bike.limits import MOST_LINKS
from lone_pike.core.chain.moves import MOVES, Place
from lone_pike.formats.records.chain_rows import piece_row, rows_in, with_pieces
from lone_pike.store.audit import audit
from lone_pike.store.bin import joiners_there, pieces_in_bin
from lone_pike.store.chains import chain_on
from lone_pike.store.database import Database
from lone_pike.store.ledger import pieces_of_job
from lone_pike.workshop.bikes import bike_there
from lone_pike.workshop.chains import undo
from lone_pike.workshop.edits import job_there
from tests.old_schema import file_of_schema

BEFORE_THE_LEDGER = 7


def piece_of(database: Database, code: str) -> int:
    row = database.connection.execute("SELECT id FROM piece WHERE code = ?", (code,)).fetchone()
    return int(row["id"])


def test_each_move_is_undone_by_one_that_goes_the_other_way() -> None:
    for move, way in MOVES.items():
        back = MOVES[way.undone_by] if way.undone_by else None
        assert back is None or (back.came_from, back.goes_to) == (way.goes_to, way.came_from), move
    assert {place for way in MOVES.values() for place in (way.came_from, way.goes_to)} == set(Place)


@pytest.mark.parametrize(
    "statement",
    [
        "INSERT INTO piece_move (piece_id, move, moved_at) VALUES (:piece, 'laid_in', '')",
        "INSERT INTO piece_move (piece_id, move, bike_id, moved_at) VALUES (:piece, 'fitted', 1, '')",
        "INSERT INTO piece_move (piece_id, move, moved_at) VALUES (:piece, 'reserved', '')",
        "INSERT INTO piece_move (piece_id, move, moved_at) VALUES (:piece, 'melted', '')",
        "UPDATE piece SET links = 58, last_end = 'outer' WHERE id = :piece",
        "UPDATE piece_move SET moved_at = ''",
        "DELETE FROM piece_move",
        "DELETE FROM piece WHERE id = :piece",
        "INSERT INTO piece (parent_id, start, links, first_end, last_end, speeds, origin, made_at)"
        " VALUES (:piece, 50, 9, 'inner', 'inner', 9, '', '')",
        "INSERT INTO piece (parent_id, start, links, first_end, last_end, speeds, origin, made_at)"
        " VALUES (:piece, 1, 9, 'inner', 'inner', 9, '', '')",
    ],
)
def test_the_schema_keeps_the_ledger(database: Database, statement: str) -> None:
    """In turn: from where it is not, from the bin onto a bike, owned by nobody, no such move; rows that never change;
    a part longer than its piece, and one that begins with the wrong link."""
    with pytest.raises(sqlite3.IntegrityError), database.atomic() as connection:
        connection.execute(statement, {"piece": piece_of(database, "CUT-0057")})


def test_an_audit_names_what_does_not_add_up(database: Database) -> None:
    """A document that names a piece which no one reserved, and a chain on a bike that was never booked."""
    job, piece = job_there(database, 4), piece_of(database, "CUT-0021")
    wrong = replace(job.state, document=with_pieces(job.document, [piece_row(21, "inner", 0.0, piece)]))
    connection = database.connection
    connection.execute("BEGIN")
    connection.execute("UPDATE revision SET content = ? WHERE id = ?", (json.dumps(wrong.content), job.revision_id))
    connection.execute("UPDATE piece SET bike_id = 2 WHERE bike_id = 1")
    found = {trouble.code: trouble.names for trouble in audit(database).troubles}
    connection.execute("ROLLBACK")
    assert found["named_and_not_reserved"] == (str(piece),)
    assert set(found["bikes_with_another_loop"]) == {"Otter", "Heron"}
    assert len(found["pieces_not_where_they_went"]) == 1


def old_bin(path: Path) -> Path:
    """A data file of the seventh schema. Bike 1: booked with piece 3 of the bin and off-cut 1. Bike 2: an open job that
    names piece 3 (used up), piece 4 twice (its own) and one from outside. Pieces 5: taken by hand. Off-cut 2: of a
    booking that was taken back."""
    with file_of_schema(path, BEFORE_THE_LEDGER) as connection:
        named = [{"links": 57, "first_end": "inner", "bin_id": 3}, {"links": 61, "first_end": "inner", "bin_id": 4}]
        chains = (
            {"box_links": 118, "pieces": named[:1]},
            {"pieces": [*named, named[1], {"links": 20, "first_end": "inner"}]},
        )
        for i, chain in enumerate(chains, start=1):
            document = {"lone_pike": 1, "name": f"Knot {i}", "chain": chain}
            content = {"document": document, "chosen_links": None, "observed": {}}
            rows = {
                "bike (id, name, document)": (i, f"Knot {i}", json.dumps(document)),
                "history (id, kind)": (i, "job"),
                "revision (id, history_id, content, message, made_at)": (
                    *(i, i, json.dumps(content)),
                    *(json.dumps({"code": "started", "values": {}}), ""),
                ),
                "job (id, bike_id, history_id, opened_at)": (i, i, i, ""),
            }
            for table, values in rows.items():
                connection.execute(f"INSERT INTO {table} VALUES ({', '.join('?' * len(values))})", values)
            connection.execute("UPDATE history SET revision_id = id WHERE id = ?", (i,))
        connection.execute("UPDATE job SET booked_at = '2026-01-01' WHERE id = 1")
        for booking_id in (1, 2):
            connection.execute(
                "INSERT INTO booking (id, job_id, bike_id, links, joiner, speeds, document_before, booked_at)"
                " VALUES (?, 1, 1, 112, 'quick_link', 9, '{}', '2026-01-01')",
                (booking_id,),
            )
        connection.execute("INSERT INTO cancellation VALUES (2, '2026-01-01')")
        for row in (
            (1, 1, 8, "outer", "inner", None, None),
            (2, 2, 6, "outer", "inner", None, None),
            (3, None, 57, "inner", "inner", "2026-01-01", 1),
            (4, None, 61, "inner", "inner", None, 2),
            (5, None, 33, "outer", "outer", "2026-01-01", None),
        ):
            connection.execute(
                "INSERT INTO offcut (id, booking_id, links, first_end, last_end, taken_at, reserved_by, speeds, origin,"
                " laid_in_at) VALUES (?, ?, ?, ?, ?, ?, ?, 9, '', '')",
                row,
            )
    return path


def test_a_bin_of_before_becomes_a_ledger_and_what_is_not_known_is_said(tmp_path: Path) -> None:
    """On bike 1 are 111 links and a quick link; what was left of the 57 that its booking used is not known."""
    with closing(Database(old_bin(tmp_path / "old.sqlite3"))) as database:
        found = audit(database)
        assert found.is_sound, found
        (nine,) = found.sums
        assert (nine.in_bin, nine.on_bikes, nine.thrown_away) == (8 + 61, 111, 57 + 33)
        assert found.used_before_links == 57
        assert [(row.id, row.links) for row in pieces_in_bin(database)] == [(4, 61), (1, 8)]
        assert [row.id for row in pieces_of_job(database.connection, 2)] == [4]
        job = job_there(database, 2)
        assert rows_in(job.document) == [piece_row(61, "inner", 0.0, 4), {"links": 20, "first_end": "inner"}]
        assert job.message.code == "pieces_elsewhere" and job.parent_id == 2, "what stood there before is one step back"
        assert not {"box_links", "pieces"} & set(bike_there(database, 1).document["chain"])


def test_the_schema_takes_the_longest_chain_there_may_be_and_no_longer(database: Database) -> None:
    insert = "INSERT INTO piece (links, first_end, last_end, speeds, origin, made_at) VALUES (?, 'inner', ?, 9, '', '')"
    with database.atomic() as connection:
        connection.execute(insert, (MOST_LINKS, "outer"))
    with pytest.raises(sqlite3.IntegrityError), database.atomic() as connection:
        connection.execute(insert, (MOST_LINKS + 1, "inner"))


def test_a_change_of_before_events_is_undone_as_one(tmp_path: Path) -> None:
    """Up to schema 14 only a sentence and an equal second tied two chains together, with the joiner that was used."""
    path, at = tmp_path / "old.sqlite3", "2026-05-02T08:00:00+00:00"
    life = {"speeds": 11, "links": 112, "joiner": "locking_link"}
    stays = {1: [{"bike_id": 1, "since": "2026-03-01"}], 2: [{"bike_id": 1, "since": "2026-04-01"}]}
    off = {1: [{**stays[1][0], "until": "2026-04-01"}], 2: [{**stays[2][0], "until": "2026-05-02"}]}
    told = {
        1: {"code": "chain_put_on", "values": {"bike": "Otter", "joiners": {"number": 1}, "off": {"number": 2}}},
        2: {"code": "chain_off_for", "values": {"bike": "Otter", "chain": "One"}},
    }
    with file_of_schema(path, 14) as old:
        old.execute("INSERT INTO bike (id, name, document) VALUES (1, 'Otter', '{}')")
        ways = [(move, way.came_from, way.goes_to) for move, way in MOVES.items()]
        old.executemany("INSERT OR IGNORE INTO move_kind VALUES (?, ?, ?)", ways)
        for id, name in ((1, "One"), (2, "Two")):
            before = {"name": name, **life, "stays": off[1] if id == 1 else stays[2]}
            after = before | {"stays": [*off[1], {"bike_id": 1, "since": "2026-05-02"}] if id == 1 else off[2]}
            old.execute("INSERT INTO history (id, kind) VALUES (?, 'chain')", (id,))
            for step, content, message in ((0, before, {"code": "started", "values": {}}), (2, after, told[id])):
                old.execute(
                    "INSERT INTO revision (id, history_id, parent_id, content, message, made_at)"
                    " VALUES (?, ?, ?, ?, ?, ?)",
                    (id + step, id, id if step else None, json.dumps(content), json.dumps(message), at),
                )
            old.execute("UPDATE history SET revision_id = ? WHERE id = ?", (id + 2, id))
            old.execute(
                "INSERT INTO chain (id, history_id, state, bike_id, name, speeds, riding, links, loose_links, joiner,"
                " joiners) VALUES (?, ?, ?, ?, ?, 11, 'dry', 112, 111, 'locking_link', 1)",
                (id, id, "on" if id == 1 else "hung", 1 if id == 1 else None, name),
            )
            old.execute(
                "INSERT INTO piece (links, first_end, last_end, speeds, origin, made_at, chain_id)"
                " VALUES (111, 'inner', 'inner', 11, ?, ?, ?)",
                (name, at, id),
            )
            for one in ("found", "put_on")[: 3 - id]:
                old.execute(
                    "INSERT INTO piece_move (piece_id, move, bike_id, moved_at) VALUES (?, ?, ?, ?)",
                    (id, one, 1 if one == "put_on" else None, at),
                )
        for change, moved_at in ((3, "2026-01-01T08:00:00+00:00"), (-1, at)):
            old.execute(
                "INSERT INTO joiner_move (kind, speeds, change, moved_at) VALUES ('locking_link', 11, ?, ?)",
                (change, moved_at),
            )
    with closing(Database(path)) as database:
        undo(database, 1, 3, "2026-06-01T08:00:00+00:00")
        on = chain_on(database.connection, 1)
        assert on and on.life.name == "Two" and joiners_there(database.connection, "locking_link", 11) == 3
        assert audit(database).is_sound
