"""What follows from proving: pairs added or removed, and measures corrected by what was seen."""

from dataclasses import replace
from itertools import pairwise

from lone_pike.core.bike.limits import LEAST_LINKS, LINKS_PER_PAIR, MOST_LINKS
from lone_pike.core.bike.measures import MEASURES
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.chain.trial import piece_of
from lone_pike.core.messages import Message, links
from lone_pike.core.refusals import Unfit
from lone_pike.core.seen.learning import Learned, learned_of
from lone_pike.formats.records.chain_rows import cut_into
from lone_pike.formats.typed.measure_form import with_readings
from lone_pike.formats.typed.parsing import Reading
from lone_pike.store.bikes import Document
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, reach_stage, revise_job
from lone_pike.workshop.answers import count_of, cuts_or_fault
from lone_pike.workshop.at_hand import at_hand, reserve
from lone_pike.workshop.cutting import cut_in_bin
from lone_pike.workshop.edits import check_seen, edit_message, job_there, keep_state, open_job
from lone_pike.workshop.proving import measured_answer

LEAST_SPREAD = 0.05
"""The smallest spread that a measure is given, in its unit."""


def change_pairs(database: Database, job_id: int, saw: int | None, pairs: int, now: str) -> JobRow:
    """Makes the chain longer by some pairs, or shorter with a minus: the cut chain becomes the pieces at hand, the new
    count is chosen, and the job goes back to Cut.

    Raises: Stale; Unfit if no chain can have that count; NotThere, NotOpen.
    """
    with database.atomic() as connection:
        job = open_job(database, job_id)
        check_seen(job, saw, "nothing_chosen")
        answer = measured_answer(database, job)
        count = count_of(job, answer, None)
        new = count + pairs * LINKS_PER_PAIR
        if not pairs or not LEAST_LINKS <= new <= MOST_LINKS:
            raise Unfit("no_such_count")
        document = _as_cut(database, job_id, job.document, cuts_or_fault(answer.bike, count)[0], now)
        observed = replace(job.observed, joined=(), threaded=(), proved=(), skipped=())
        hand = at_hand(connection, job_id, document)
        state = replace(job.state, document=hand.document, chosen_links=new, observed=observed)
        message = Message("pairs_changed", before=links(count), count=links(new))
        revise_job(connection, job, state, hand.message_with(message), now)
        reserve(connection, job_id, hand.bin_ids, now)
        reach_stage(connection, job_id, "cut")
        return job_there(database, job_id)


def take_over(database: Database, job_id: int, saw: int | None, now: str) -> JobRow:
    """Stores the measures as corrected by what was seen, which is then not used a second time.

    Raises: Stale; Unfit where nothing was learned; NotThere, NotOpen.
    """
    with database.atomic() as connection:
        job = open_job(database, job_id)
        check_seen(job, saw, "nothing_kept")
        learned = learned_of(measured_answer(database, job).bike)
        if learned is None or not learned.measures:
            raise Unfit("nothing_learned")
        document = with_learned(job.document, learned)
        state = replace(job.state, document=document)
        message = Message("from_seen", changes=edit_message(job.state, state))
        return keep_state(database, connection, job, state, message, now)


def with_learned(document: Document, learned: Learned) -> Document:
    """The document with the corrected measures and their spreads, and with what was seen marked as taken over."""
    changed: dict[str, Reading] = {}
    places: dict[str, dict[str, float]] = {}
    idlers = [dict(row) for row in document.get("idlers", [])]
    for one in learned.measures:
        spec, now, spread = MEASURES[one.key], round(one.now, 2), max(round(one.now_spread, 2), LEAST_SPREAD)
        if one.key.startswith("idler_"):
            row = idlers[int(one.key.split("_")[1]) - 1]
            row.update(at_mm=[row["at_mm"][0], now], about_mm=spread)
        elif one.key == "turn_deg":
            continue
        elif one.key.endswith(("_x_mm", "_y_mm")):
            places.setdefault(spec.path, {})[one.key[-4]] = now
            changed[spec.path] = Reading([places[spec.path].get("x"), places[spec.path].get("y")], spread)
        else:
            changed[spec.path] = Reading(now, spread)
    learned_document = with_readings(document, changed)
    rows = [{**row, "taken_over": True} for row in document.get("seen", [])]
    return learned_document | {"seen": rows} | ({"idlers": idlers} if idlers else {})


def _as_cut(database: Database, job_id: int, document: Document, cuts: tuple[Cut, ...], now: str) -> Document:
    """The pieces at hand after the cut: each run, each off-cut, and each trimmed end."""
    for cut in sorted(cuts, key=lambda one: -one.piece):
        if cut.missing_links or not cut.joints:
            continue
        pieces = tuple(piece_of(cut.first_end, a, b) for a, b in pairwise([0, *cut.joints, cut.box_links]))
        made = cut_in_bin(database, job_id, document, cut.piece, cut.joints, now)
        document = cut_into(document, cut.piece, pieces, made)
    return document
