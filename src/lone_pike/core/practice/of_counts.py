"""Questions about counts: what each method gives and whether that is safe, and which counts fit if nothing is
sprung."""

from lone_pike.core.bike.take_up import Moves
from lone_pike.core.count.schools import Vote, votes_of
from lone_pike.core.messages import Message, Quantity, Term, Unit, links, mm
from lone_pike.core.practice.asking import AskedPart, Draft, Question, safe_message, window_of
from lone_pike.core.take_up.protocol import Fit, Safety
from lone_pike.core.take_up.wheels_apart import movement_mm, span_mm, spare_for_mm

BY_HEAD = ("bare_wrap_1_pair", "bare_wrap_2_pairs", "by_cogs", "overlap_floor", "formula")
"""The methods that can be calculated from teeth, stay and bare wrap; the others need the bike."""

METHODS = {1: 2, 2: 3, 3: 5}
"""The number of methods in a question, by level."""

MOST_COUNT, COUNTS_OFFERED = 400, 6


def school(draft: Draft) -> Question:
    """The counts of some methods for a bare wrap, and what a chain with each count does on this bike."""
    sizing = draft.sizing
    votes = [vote for vote in votes_of(sizing) if vote.school in BY_HEAD]
    asked = sorted(draft.lot.sample(range(len(votes)), min(METHODS[draft.level], len(votes))))
    parts: list[AskedPart] = []
    right: dict[str, frozenset[str]] = {}
    for vote in (votes[i] for i in asked):
        count, then = (AskedPart(key, options, most=most, of=vote.school) for key, options, most in ASKED_OF_A_METHOD)
        parts += [count, then]
        right |= {count.name: frozenset({str(vote.links)}), then.name: frozenset({str(sizing.safety(vote.links))})}
    return draft.question(
        parts=tuple(parts),
        right=right,
        beside=(draft.measures, Message("practice_wrap", wrap=links(round(sizing.bare_wrap_links, 1)))),
        because=(
            Message("practice_safe", safe=safe_message(sizing)),
            *(_said_of(votes[i]) for i in asked),
        ),
        gears=sizing.take_up.gears(sizing.recommended_links)[:1],
        truth={"bare_wrap": sizing.bare_wrap_links, "votes": {votes[i].school: votes[i].links for i in asked}},
    )


ASKED_OF_A_METHOD: tuple[tuple[str, tuple[str, ...], int], ...] = (
    ("count", (), MOST_COUNT),
    ("holds", tuple(map(str, Safety)), 0),
)


def _said_of(vote: Vote) -> Message:
    return Message("practice_vote", school=Term("flag", vote.school), why=vote.why)


SLACKS_MM = (5, 10, 15, 20, 30, 45)
"""The options for how far a run moves at its middle."""

WEARS_PERCENT = (0.25, 0.5, 1.0)
"""The options for the wear at which the room is used up."""

LATER = "later"


def fixed(draft: Draft) -> Question:
    """Which of some counts fit if nothing is sprung; and for one of them, how far the run moves if the wheels are a
    little nearer than for a taut chain, and how soon wear uses up the room."""
    sizing, window, fits = draft.sizing, window_of(draft.sizing), draft.sizing.take_up.fits()
    begin = window[0] - sizing.step_links * draft.lot.randint(1, 4)
    counts = [begin + sizing.step_links * i for i in range(COUNTS_OFFERED)]
    fitting = frozenset(str(count) for count in counts if sizing.safety(count) is Safety.SAFE)
    fit = draft.lot.choice(fits)
    nearer_mm, moves_mm = _slack_of(draft, fit)
    nearest = min(SLACKS_MM, key=lambda slack_mm: abs(slack_mm - moves_mm))
    worn = next((f"{wear:g}" for wear in WEARS_PERCENT if fit.wear_room_percent < wear), LATER)
    return draft.question(
        parts=(
            AskedPart("counts", tuple(map(str, counts)), several=True),
            AskedPart("moves", tuple(map(str, SLACKS_MM))),
            AskedPart("until", (*(f"{wear:g}" for wear in WEARS_PERCENT), LATER)),
        ),
        right={"counts": fitting, "moves": frozenset({str(nearest)}), "until": frozenset({worn})},
        beside=(draft.measures, Message("practice_nearer", count=links(fit.links), nearer=mm(nearer_mm))),
        because=(
            Message("practice_safe", safe=safe_message(sizing)),
            Message(
                "practice_moves",
                moves=mm(moves_mm),
                wear=Quantity(fit.wear_room_percent, Unit.PERCENT),
                count=links(fit.links),
            ),
            Message("practice_meaning", meaning=sizing.take_up.meaning(fit.links)),
        ),
        gears=sizing.take_up.gears(sizing.recommended_links)[:1],
        shown_links=sizing.recommended_links,
        truth={
            "fits": sorted(map(int, fitting)),
            "moves_mm": round(moves_mm, 3),
            "wear_room_percent": fit.wear_room_percent,
        },
    )


def _slack_of(draft: Draft, fit: Fit) -> tuple[float, float]:
    """By how much the wheels are nearer than for a taut chain, mm in hundredths, and how far the run then moves. If
    nothing moves, it is the real distance; otherwise it is drawn so that each answer is equally likely."""
    sizing, teeth = draft.sizing, draft.sizing.fixed.gear_teeth[0]
    taut_mm = fit.centre_mm
    span = float(span_mm(*teeth, taut_mm))
    if sizing.fixed.part.moves is Moves.NOTHING:
        nearer_mm = taut_mm - float(sizing.fixed.near_mm[0, 0, 0])
    else:
        drawn_mm = draft.lot.choice(SLACKS_MM[1:])
        nearer_mm = round(float(spare_for_mm(drawn_mm, span)) * taut_mm / (2 * span), 2)
    spare_mm = 2 * nearer_mm * span / taut_mm
    return nearer_mm, float(movement_mm(spare_mm, span))
