"""The audit of the chain ledger: all that was laid in is in the bin, with a job, on a bike, or thrown away.

Each query names the pieces, jobs or bikes that do not add up; in a sound data file every result is empty.
"""

from dataclasses import dataclass

from lone_pike.store.bikes import IS_OPEN
from lone_pike.store.database import Database

MOST_NAMED = 20

NAMED = f"""
    SELECT job.id AS job_id, one.key AS place, json_extract(one.value, '$.bin_id') AS bin_id,
        json_extract(one.value, '$.links') AS links, json_extract(one.value, '$.first_end') AS first_end
    FROM job JOIN history ON history.id = job.history_id JOIN revision ON revision.id = history.revision_id,
        json_each(revision.content, '$.document.chain.pieces') AS one
    WHERE {IS_OPEN} AND one.type = 'object' AND json_extract(one.value, '$.bin_id') IS NOT NULL
"""
"""The pieces of the bin that open jobs name."""

QUESTIONS = {
    "cuts_that_do_not_add_up": """
        SELECT parent.id FROM piece AS parent LEFT JOIN piece AS part ON part.parent_id = parent.id
            AND part.place <> 'nowhere'
        WHERE parent.place = 'cut' GROUP BY parent.id HAVING sum(part.links) IS NOT parent.links
    """,
    "parts_of_whole_pieces": """
        SELECT part.id FROM piece AS part JOIN piece AS parent ON parent.id = part.parent_id
        WHERE part.place <> 'nowhere' AND parent.place <> 'cut'
    """,
    "pieces_not_where_they_went": """
        SELECT piece.id FROM piece LEFT JOIN piece_move AS last ON last.id = (
            SELECT max(id) FROM piece_move WHERE piece_id = piece.id
        ) LEFT JOIN move_kind ON move_kind.name = last.move
        WHERE piece.place IS NOT move_kind.goes_to OR piece.job_id IS NOT last.job_id
            OR piece.bike_id IS NOT last.bike_id
    """,
    "moves_from_elsewhere": """
        SELECT piece_id FROM (
            SELECT piece_id, came_from,
                lag(goes_to, 1, 'nowhere') OVER (PARTITION BY piece_id ORDER BY piece_move.id) AS was_at
            FROM piece_move JOIN move_kind ON move_kind.name = move
        ) WHERE came_from <> was_at
    """,
    "reserved_by_no_open_job": f"""
        SELECT piece.id FROM piece JOIN job ON job.id = piece.job_id WHERE NOT ({IS_OPEN})
    """,
    "reserved_and_not_named": f"""
        SELECT piece.id FROM piece LEFT JOIN ({NAMED}) AS named ON named.bin_id = piece.id
            AND named.job_id = piece.job_id AND named.links = piece.links AND named.first_end = piece.first_end
        WHERE piece.place = 'job' GROUP BY piece.id HAVING count(named.bin_id) <> 1
    """,
    "named_and_not_reserved": f"""
        SELECT named.bin_id FROM ({NAMED}) AS named LEFT JOIN piece ON piece.id = named.bin_id
            AND piece.job_id = named.job_id
        WHERE piece.id IS NULL
    """,
    "bikes_with_another_loop": """
        SELECT bike.name FROM bike LEFT JOIN piece ON piece.bike_id = bike.id
            LEFT JOIN chain ON chain.bike_id = bike.id
        GROUP BY bike.id
        HAVING coalesce(sum(piece.links), 0) <> coalesce(chain.loose_links, 0)
            OR sum(piece.chain_id IS NOT chain.id AND piece.id IS NOT NULL) > 0
    """,
    "chains_not_whole": """
        SELECT chain.name FROM chain LEFT JOIN piece ON piece.chain_id = chain.id AND piece.place = 'hook'
        WHERE chain.state = 'hung' GROUP BY chain.id HAVING coalesce(sum(piece.links), 0) <> chain.loose_links
    """,
    "hung_for_no_chain": """
        SELECT piece.id FROM piece LEFT JOIN chain ON chain.id = piece.chain_id
        WHERE piece.place = 'hook' AND chain.state IS NOT 'hung'
    """,
}
"""The queries, by the code of the sentence that reports their results."""

SUMS = """
    SELECT speeds,
        sum(CASE WHEN parent_id IS NULL AND place <> 'nowhere' THEN links ELSE 0 END) AS laid_in,
        sum(CASE WHEN place IN ('bin', 'job') THEN links ELSE 0 END) AS in_bin,
        sum(CASE WHEN place = 'bike' THEN links ELSE 0 END) AS on_bikes,
        sum(CASE WHEN place = 'hook' THEN links ELSE 0 END) AS hung_up,
        sum(CASE WHEN place = 'gone' THEN links ELSE 0 END) AS thrown_away
    FROM piece GROUP BY speeds ORDER BY speeds
"""


@dataclass(frozen=True)
class ChainSum:
    """Links of chain for a number of cogs: how many were laid in or brought by jobs, and where they are now."""

    speeds: int
    laid_in: int
    in_bin: int
    on_bikes: int
    hung_up: int
    thrown_away: int

    @property
    def adds_up(self) -> bool:
        """Whether all links are accounted for."""
        return self.laid_in == self.in_bin + self.on_bikes + self.hung_up + self.thrown_away


@dataclass(frozen=True)
class Trouble:
    """Something in the ledger that does not add up: its code, and the pieces or bikes it is about."""

    code: str
    names: tuple[str, ...]


@dataclass(frozen=True)
class Audit:
    """The sums of chain by cogs, what does not add up, and links used before moves were kept."""

    sums: tuple[ChainSum, ...]
    troubles: tuple[Trouble, ...]
    used_before_links: int

    @property
    def is_sound(self) -> bool:
        """Whether everything adds up."""
        return not self.troubles and all(one.adds_up for one in self.sums)


def audit(database: Database) -> Audit:
    """Audits the ledger."""
    connection = database.connection
    troubles = []
    for code, sql in QUESTIONS.items():
        names = [str(row[0]) for row in connection.execute(f"{sql} LIMIT {MOST_NAMED}")]
        troubles += [Trouble(code, tuple(names))] if names else []
    sums = tuple(ChainSum(*row) for row in connection.execute(SUMS))
    used = connection.execute(
        "SELECT coalesce(sum(links), 0) FROM piece_move JOIN piece ON piece.id = piece_id WHERE move = 'used_before'"
    ).fetchone()
    return Audit(sums, tuple(troubles), int(used[0]))
