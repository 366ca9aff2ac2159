"""The pictures of a question: while it is asked, with nothing that gives the answer away, and once it is answered."""

from dataclasses import dataclass, replace
from math import radians

from lone_pike.core.bike.clock import hand_deg
from lone_pike.core.bike.limits import LEAST_LINKS, MOST_LINKS
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.messages import Message, Term, number
from lone_pike.core.practice.asking import Answers, Question
from lone_pike.core.practice.consequences import count_said
from lone_pike.core.practice.of_bike import NOTHING, THREADED
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.charts.strip import Strip, strip
from lone_pike.drawing.scene.chain import ChainShapes
from lone_pike.drawing.scene.moving import Moving, between_angles, between_counts, between_paths, between_travels
from lone_pike.drawing.scene.side_view import SideView, side_view, with_seen
from lone_pike.drawing.scene.threading import SWAPPED, Led, led_path, led_view

NO_CHAIN = ChainShapes("", "", "", "")


@dataclass(frozen=True)
class PosedPicture:
    """A drawing and its caption. Its text for those who cannot see it says where the cage points, and no more."""

    side: SideView
    caption: Message


def _gear_title(gear: Gear) -> Message:
    return Message("practice_title", ring=number(gear.ring), cog=number(gear.cog))


def _plain(asked: Question, gear: Gear, count: int) -> SideView:
    """The drawing without anything, in lines or in words, that gives away how long the chain is."""
    view = side_view(asked.sizing, gear, count)
    return replace(view, title=_gear_title(gear), state="", stretched_cage="", reserve_arc="", touch=None, troubles=())


def asked_pictures(asked: Question) -> tuple[PosedPicture, ...]:
    """The bike of the question, with its chain only if the question is about the chain."""
    if asked.exercise == "judge":
        return tuple(_judged(asked, gear) for gear in asked.gears)
    if asked.reading or asked.exercise == "thread":
        return ()
    return tuple(PosedPicture(_without_chain(asked, gear), _gear_title(gear)) for gear in asked.gears)


def _judged(asked: Question, gear: Gear) -> PosedPicture:
    ring, cog = number(gear.ring), number(gear.cog)
    seen = Message("practice_seen", ring=ring, cog=cog, clock=gear.rest_clock or Message("practice_stop"))
    return PosedPicture(replace(_plain(asked, gear, asked.shown_links), title=seen), _gear_title(gear))


def _without_chain(asked: Question, gear: Gear) -> SideView:
    view = _plain(asked, gear, asked.sizing.recommended_links)
    wheels = tuple(one for one in view.wheels if not one.name.endswith("pulley"))
    is_caged = len(wheels) < len(view.wheels)
    return replace(view, chain=NO_CHAIN, wheels=wheels, hubs="", tubes=(), cage="" if is_caged else view.cage)


def answered_pictures(asked: Question, answers: Answers | None) -> tuple[PosedPicture, ...]:
    """The right answer: the bike with its chain on, and the hand that was set."""
    sizing, right = asked.sizing, asked.sizing.recommended_links
    if not asked.gears or asked.reading or asked.exercise == "thread":
        return ()
    gear = _telling_gear(asked)
    true = side_view(sizing, next(one for one in sizing.take_up.gears(right) if _same(one, gear)), right)
    hand = next(iter(sorted((answers or {}).get("hand", frozenset()))), "")
    seen_deg = hand_deg(hand) if asked.exercise == "clock" else None
    drawn = with_seen(true, sizing, gear, right, seen_deg) if seen_deg is not None else true
    return (PosedPicture(drawn, drawn.title),)


def _telling_gear(asked: Question) -> Gear:
    """The gear to look at: small/small for a chain that is too long, big/big for one that is too short."""
    is_long = asked.exercise == "judge" and asked.shown_links > asked.sizing.recommended_links
    return asked.gears[-1 if is_long else 0]


def moving_picture(asked: Question, answers: Answers) -> Moving | None:
    """The bike as it moves from the given answer to the right one; None if nothing moves."""
    sizing, right = asked.sizing, asked.sizing.recommended_links
    if asked.exercise == "clock":
        gear, hand_rad = asked.gears[0], radians(hand_deg(min(answers["hand"])) or 0.0)
        return (
            None if asked.is_right(answers) else between_angles(sizing, gear, hand_rad, radians(gear.rest_deg or 0.0))
        )
    if asked.exercise == "suspension":
        said_mm = int(min(answers["longest"])) / 100 * sizing.bike.travel_mm
        gear = asked.gears[0]
        return between_travels(sizing, gear, right, said_mm, sizing.worst_travel_mm)
    if asked.exercise == "thread":
        gear, wrong = asked.gears[0], min(asked.right["stop"])
        if wrong not in SWAPPED:
            return None
        return between_paths(sizing, *(led_path(sizing, gear, right, one) for one in (wrong, NOTHING)))
    judged_right = asked.exercise == "judge" and asked.is_right(answers)
    count = asked.shown_links if judged_right else count_said(asked, answers)
    if count is None or count == right or not LEAST_LINKS <= count <= MOST_LINKS:
        return None
    gear = _telling_gear(asked) if asked.gears else sizing.take_up.gears(right)[0]
    return between_counts(sizing, gear, count, right)


@dataclass(frozen=True)
class LedPicture:
    """The chain on its way round, from the side and at its cage. Its text says how the chain runs, for those who cannot
    see it."""

    led: Led
    seen: Message


def led_pictures(asked: Question, is_answered: bool) -> tuple[LedPicture, ...]:
    """The chain as it was laid, or once answered as it should be; None for another exercise."""
    if asked.exercise != "thread":
        return ()
    return (_led(asked, NOTHING if is_answered else min(asked.right["stop"])),)


def _led(asked: Question, wrong: str) -> LedPicture:
    gear = asked.gears[0]
    seen = {
        name: Term("led", f"{name}.{'wrong' if name == wrong else 'right'}") for name in THREADED if name != NOTHING
    }
    return LedPicture(led_view(asked.sizing, gear, asked.shown_links, wrong), Message("thread_seen", **seen))


def _same(one: Gear, other: Gear) -> bool:
    return (one.ring, one.cog) == (other.ring, other.cog)


def strip_of(asked: Question, answers: Answers | None) -> Strip | None:
    """The loose chain: uncut while the question is open, with the rivet to push once it is answered."""
    cut = asked.cut
    if cut is None:
        return None
    if answers is None:
        return strip(_uncut(cut))
    typed = next(iter(answers.get("rivet", frozenset())), "")
    return strip(cut, tried=int(typed) if typed.isdecimal() and len(typed) < 4 else None)


def _uncut(cut: Cut) -> Cut:
    return replace(
        cut,
        keep_links=cut.box_links,
        trim_links=0,
        offcut_links=0,
        offcut_ends=None,
        push_from_start=None,
        push_from_end=None,
        missing_links=0,
    )
