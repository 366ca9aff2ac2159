"""The messages of refused operations and what to do instead; those of access, and what a check of the ledger says."""

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from lone_pike.store.audit import Audit

REFUSALS = {
    "no_such_job": "There is no such job here. The Stand lists the jobs in hand.",
    "no_such_bike": "There is no such bike here. Bikes lists all of them.",
    "no_such_piece": "There is no such piece here. The bin lists all of them.",
    "no_such_photo": "There is no such photo here.",
    "no_such_drawing": "This job has no such drawing.",
    "no_such_stage": "There is no stage “{name}”. The stages of the job are on its left.",
    "no_such_device": "There is no device “{name}” here; there are {names:and}.",
    "job_is_booked": "This job is booked. Take the booking back first; nothing was changed.",
    "job_is_closed": "This job is closed. Open it again on its bike's page; nothing was changed.",
    "bike_has_a_job": "This bike has a job in hand. Book or close it first; nothing was changed.",
    "another_job_in_hand": "This bike has another job in hand. Close that one first; nothing was changed.",
    "booking_stays": (
        "This booking cannot be taken back: another job of the bike is open, or it was booked again since."
    ),
    "booking_moved": (
        "Chain of this booking has been used since, so it cannot be undone as a mistake. If the chain came off the"
        " bike, say so on the bike's page."
    ),
    "piece_taken": "That piece is reserved by another job, or gone. Nothing was changed; look in the bin again.",
    "code_twice": "{label} is in the bin already. Nothing was added.",
    "not_measured_yet": "The bike is not measured yet. Measure it first; nothing was changed.",
    "is_short_now": "{short} Measure again, or use another box or piece.",
    "no_chain_at_hand": "No box and no piece is at hand yet. Read the count off the box, under Measure.",
    "no_photo_yet": "This job has no photo yet. Add one first; nothing was changed.",
    "no_such_mark": "There is no such mark on the photo. Choose one from the list; nothing was changed.",
    "measure_before_route": "Measure rings, cogs, chainstay and cage first; nothing was changed.",
    "no_more_idlers": "A bike has up to {most} idlers. Nothing was changed.",
    "no_such_idler": "This bike has no such idler. Go back and choose one; nothing was changed.",
    "no_such_press": "This page has no such button. Nothing was changed.",
    "nothing_here": "Nothing is at this address.",
    "not_taken_here": "This address does not accept that.",
    "too_large": "That is too large. A bike is one small file, a photo up to 25 MB; nothing was changed.",
    "out_of_reach": "The workshop does not answer, and this page is not kept on this tablet.",
    "busy_now": "The workshop is busy. Nothing was changed; wait a moment and try again.",
    "our_mistake": (
        "This is a fault in the program, not yours. Nothing was changed. Go back and reload the page; "
        "what you typed is below."
    ),
    "data_locked": "Another program is using the data file. Nothing was changed; close it there, then send this again.",
    "data_moved": (
        "The data file is no longer where it was: it was removed, moved or replaced. Nothing was changed. Put it back,"
        " or start the workshop again, and send this again."
    ),
    "data_full": "The disk is full. Nothing was changed; make room, then send this again.",
    "data_read_only": "The data file is read-only. Nothing was changed; allow writing to it, then send this again.",
    "data_not_opened": "The data file cannot be opened. Nothing was changed; check that its disk is there.",
    "data_damaged": "The data file is damaged. Stop the workshop, and restore a backup: lone-pike restore.",
    "data_not_usable": (
        "The data file cannot be used just now. Nothing was changed; check its disk, then send this again."
    ),
}
REFUSED_VALUES = {
    "a_pressure": "a pressure with its unit",
    "pressure_was": "It was {before} before; check it.",
    "a_rivet_between": "a rivet between two links of this chain",
    "a_whole_number": "a whole number",
    "in_or_out": "up to {most} in, or out with a minus",
    "no_more_than_there": "no more out than the {there} that are there",
    "choose_on_the_rail": "Go back and choose on the rail.",
}
"""What is allowed in a field that an operation refuses, and how to mend it."""


ACCESS_SENTENCES = {
    "passcode_of_other_role": "The other role has this passcode already; choose another one.",
    "wrong_passcode": "This passcode is wrong.",
    "too_many_tokens": "There are too many tokens; take one back first.",
    "an_address": "an address in numbers, such as 192.168.0.10",
    "a_passcode": "a passcode for the bench",
    "set_passcode": "Set it with lone-pike passcode --data FILE.",
    "wait_after_tries": "Too many wrong passcodes came from this address. Try again in {wait} s; nobody else waits.",
    "not_at_counter": "The counter can look, start jobs, and note what is wrong. Sign in at the bench for the rest.",
    "sign_in_first": "Sign in first. Nothing was changed; go back once you are signed in, and send it again.",
    "token_first": "This needs a token that the bench made in Shop.",
}


TROUBLES = {
    "cuts_that_do_not_add_up": "the parts of a cut do not add up to the piece",
    "parts_of_whole_pieces": "parts of a piece that was not cut",
    "pieces_not_where_they_went": "pieces that are not where their last move took them",
    "moves_from_elsewhere": "pieces that left from where they were not",
    "reserved_by_no_open_job": "pieces reserved by a job that is not open",
    "reserved_and_not_named": "pieces that a job has reserved and does not name",
    "named_and_not_reserved": "pieces that a job names and has not reserved",
    "bikes_with_another_loop": "bikes that have other links on than their chain has",
    "chains_not_whole": "chains that hang up and are not whole",
    "hung_for_no_chain": "pieces that hang up for no chain",
}


def sum_lines(found: "Audit") -> list[str]:
    """Where all chain is that came in, one line for each number of cogs."""
    lines = []
    for one in found.sums:
        cogs = f"chain for {one.speeds} cog{'s' if one.speeds != 1 else ''}"
        hung = f" + {one.hung_up} hung up" if one.hung_up else ""
        there = f"{one.in_bin} in the bin + {one.on_bikes} on bikes{hung} + {one.thrown_away} thrown away"
        lines.append(f"{cogs}: {one.laid_in} links came in {'=' if one.adds_up else 'but there are'} {there}")
    if found.used_before_links:
        used = f"{found.used_before_links} of the links thrown away were used before the ledger began"
        lines.append(f"{used}: what was left of them is not known")
    return lines


def trouble_lines(found: "Audit") -> list[str]:
    """What does not add up, and which pieces or bikes it is about."""
    return [f"chain: {TROUBLES[one.code]}: {', '.join(one.names)}" for one in found.troubles]
