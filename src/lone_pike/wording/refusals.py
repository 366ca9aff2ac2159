"""The messages of refused operations, and what to do instead."""

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
