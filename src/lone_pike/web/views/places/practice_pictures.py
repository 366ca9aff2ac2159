"""The pictures of a question: as it is asked, with nothing in them that tells what is right, and as it is told."""

from dataclasses import dataclass, replace

from lone_pike.core.bike.clock import hand_deg
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.messages import Message, number
from lone_pike.core.practice.asking import Answers, Question
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.charts.strip import Strip, strip
from lone_pike.drawing.scene.chain import ChainShapes
from lone_pike.drawing.scene.side_view import SideView, side_view, with_seen

NO_CHAIN = ChainShapes("", "", "", "")


@dataclass(frozen=True)
class Picture:
    """A drawing and what stands under it; those who do not see it are told where its cage points, and no more."""

    side: SideView
    caption: Message


def _gear_title(gear: Gear) -> Message:
    return Message("practice_title", ring=number(gear.ring), cog=number(gear.cog))


def _plain(asked: Question, gear: Gear, count: int) -> SideView:
    """The drawing with nothing in it, and nothing in its words, that tells how long the chain is."""
    view = side_view(asked.sizing, gear, count)
    return replace(view, title=_gear_title(gear), state="", stretched_cage="", reserve_arc="", touch=None, troubles=())


def asked_pictures(asked: Question) -> tuple[Picture, ...]:
    """The bike as it is asked about: with the chain only where it is the chain that is looked at."""
    if asked.exercise == "judge":
        return tuple(_judged(asked, gear) for gear in asked.gears)
    if asked.reading:
        return ()
    return tuple(Picture(_without_chain(asked, gear), _gear_title(gear)) for gear in asked.gears)


def _judged(asked: Question, gear: Gear) -> Picture:
    ring, cog = number(gear.ring), number(gear.cog)
    seen = Message("practice_seen", ring=ring, cog=cog, clock=gear.rest_clock or Message("practice_stop"))
    return Picture(replace(_plain(asked, gear, asked.shown_links), title=seen), _gear_title(gear))


def _without_chain(asked: Question, gear: Gear) -> SideView:
    view = _plain(asked, gear, asked.sizing.recommended_links)
    wheels = tuple(one for one in view.wheels if not one.name.endswith("pulley"))
    is_caged = len(wheels) < len(view.wheels)
    return replace(view, chain=NO_CHAIN, wheels=wheels, hubs="", tubes=(), cage="" if is_caged else view.cage)


def told_pictures(asked: Question, answers: Answers | None) -> tuple[Picture, ...]:
    """What it was and what is right: the chain that was shown beside the right one, the hand that was set in the true
    drawing, or the bike with its chain on."""
    sizing, right = asked.sizing, asked.sizing.recommended_links
    if not asked.gears or asked.reading:
        return ()
    # A chain that is too long shows it in small/small, one that is too short in big/big.
    gear = asked.gears[-1 if asked.exercise == "judge" and asked.shown_links > right else 0]
    true = side_view(sizing, next(one for one in sizing.take_up.gears(right) if _same(one, gear)), right)
    if asked.exercise == "judge":
        shown = asked.shown_links
        both = (side_view(sizing, gear, shown), *([true] if asked.right["pairs"] != frozenset({"0"}) else []))
        return tuple(Picture(one, one.title) for one in both)
    hand = next(iter(sorted((answers or {}).get("hand", frozenset()))), "")
    seen_deg = hand_deg(hand) if asked.exercise == "clock" else None
    told = with_seen(true, sizing, gear, right, seen_deg) if seen_deg is not None else true
    return (Picture(told, told.title),)


def _same(one: Gear, other: Gear) -> bool:
    return (one.ring, one.cog) == (other.ring, other.cog)


def strip_of(asked: Question, answers: Answers | None) -> Strip | None:
    """The loose chain: uncut while it is asked about, with the rivet to push once it is told."""
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
