"""The terms of the trade, by their list and their key in it."""

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.fields import fields_of
from lone_pike.core.bike.measures import MEASURES
from lone_pike.core.bike.parts import EndLimits
from lone_pike.core.messages import Term
from lone_pike.core.stages import STAGES
from lone_pike.core.wear.costs import CostAssumptions
from lone_pike.wording.chains import (
    CHAIN_FIELDS,
    CHAIN_LABELS,
    COST_PARTS,
    DUE_STATES,
    ENDINGS,
    LUBES,
    RIDINGS,
    SOURCES,
)
from lone_pike.wording.joiners import JOINER_NAMES
from lone_pike.wording.kinds import KIND_WORDS
from lone_pike.wording.practice import (
    ASKED_WORDS,
    EXERCISE_WORDS,
    FAMILY_WORDS,
    LED_WORDS,
    METHOD_WORDS,
    OPTION_WORDS,
    PART_ASKED,
)
from lone_pike.wording.proving import PROVING, SEEN_BUTTONS, SEEN_STATES
from lone_pike.wording.receive import CAUSE_WORDS, PART_WORDS, SYMPTOM_WORDS, TOOL_WORDS, TURNING_WORDS, WAY_WORDS
from lone_pike.wording.schools import FLAGS

BOX_ENDS = {"inner_inner": "inner, inner", "inner_outer": "inner, outer", "outer_outer": "outer, outer"}
CAGE_CLASSES = {"short": "short", "medium": "medium", "long": "long"}
TAKE_UPS = {kind: words.name for kind, words in KIND_WORDS.items()}

LEAST_KIND_LETTERS = 3
MOTOR_WORDS = ("e-bike", "ebike", "motor", "battery")
AXLE_PLACES = {"middle": "in the middle", "forward": "at the front", "kilometres": "for most wear"}
WIDTHS = {"1/8": "1/8 in", "3/32": "3/32 in"}
SUSPENSIONS = {"pivot": "one pivot", "table": "a table", "growth": "one figure"}
MARKS = {
    "crank": "crank centre",
    "axle": "axle",
    "guide": "guide pulley",
    "tension": "tension pulley",
    "pivot": "pivot",
    "scale_from": "scale from",
    "scale_to": "scale to",
    "level_from": "level from",
    "level_to": "level to",
}
PRESSED = {mark: f"the {word}" for mark, word in MARKS.items()} | {
    "scale_from": "one end of the scale",
    "scale_to": "its other end",
    "level_from": "one end of something level",
    "level_to": "its other end",
}
SAFETY_WORDS = {"safe": "safe", "short": "too short: breaks", "loose": "too long: hangs"}
PIECE_SOURCES = {"hand": "by hand", "scan": "scanned", "program": "by a program", "bike": "off a bike"}
STATES = {"safe": "safe", "tight": "tight", "touching": "touching", "short": "short", "loose": "loose"}
STEPS = {
    "noted": "Shock pressure and rebound setting written down",
    "empty": "Air let out through the valve; coil spring taken off",
    "compressed": "Fully compressed, and strapped there",
    "wrapped": "Chain wrapped round big/big, skipping the derailleur, and counted",
    "back": "Strap off, air or spring back in",
}
LED = {
    "seat": "Seat set for this rider",
    "boom": "Boom set for this rider, legs nearly straight",
    "zero": "That boom setting marked: it is 0 from here on",
}
JOINED = {
    "seated": "Seated, as drawn",
    "both_sides": "The same on the other side",
    "free": "No stiff link: flexed sideways with both thumbs",
    "turned": "A full turn backwards by the pedal",
}
NOTES = {
    "complaint": "Complaint",
    "symptom": "What is wrong",
    "pressure_before": "Shock before",
    "pressure_after": "Shock put back",
    "steps": "Steps done",
    "led": "Set before measuring",
    "threaded": "Threaded",
    "joined": "Joiner checked",
    "skipped": "Skipped",
}
WEAR_SCHOOLS = {
    "by_speeds": "0.5, 0.75 or 1% by cogs",
    "half": "0.5% for all",
    "three_quarters": "0.75% for all",
    "whole": "1% for all",
}
CARES = {
    "wipe_oil": "wipe the outside, oil",
    "wipe_wax": "wipe the outside, wax",
    "strip_oil": "strip the grease, oil",
    "strip_wax": "strip the grease, wax",
}
SETTINGS = {
    "first": "Counts",
    "unit": "Lengths",
    "house_rule": "House rule",
    "wear_school": "Replace chains at",
    "care": "Care",
    "backup_folder": "Backups in",
}
SETTING_VALUES = {"in": "inches", "mm": "mm", "links": "links first", "pairs": "pairs first"} | WEAR_SCHOOLS | CARES
STAGE_NAMES = {stage.key: stage.label for stage in STAGES.values()}
LABELS = {path: spec.label for path, spec in fields_of(Bike).items()}
COST_LABELS = {path: spec.label for path, spec in fields_of(CostAssumptions).items()}
HOUSE_RULES = {"window": "the window", **FLAGS}

TERMS: dict[str, dict[str, str]] = {
    "field": CHAIN_LABELS | COST_LABELS | LABELS,
    "setting": SETTINGS | COST_LABELS | {path: spec.label for path, spec in fields_of(EndLimits).items()},
    "setting_value": SETTING_VALUES,
    "care": {
        "ruler_in_plane": "Scale held in the chain's plane",
        "on_stand": "Camera on a stand, square to the bike",
    },
    "measure": {measure: spec.label.lower() for measure, spec in MEASURES.items()},
    "joiner": JOINER_NAMES,
    "cage_class": CAGE_CLASSES,
    "house_rule": HOUSE_RULES,
    "changed_part": {"cogs": "cogs", "rings": "rings", "derailleur": "derailleur", "frame": "frame"},
    "wheel": {"cogs": "the largest cog", "rings": "the ring"},
    "run": {"drive": "drive", "return": "return"},
    "side": {"over": "over", "under": "under"},
    "stop": {"ring": "ring", "cog": "cog", "idler": "idler"}
    | {f"{pulley} pulley": f"{pulley} pulley" for pulley in ("guide", "tension")},
    "end": {"inner": "inner", "outer": "outer"},
    "counted": {"start": "from the start", "end": "from the other end", "mark": "from the mark"},
    "paper": {
        "card.pdf": "Job card",
        "strip.pdf": "Strip at 1:1",
        "picture/strip.svg": "Save the strip",
        "picture/side.svg": "Save the drawing",
        "picture/rail.svg": "Rail",
        "picture/dials.svg": "Dials",
        "weigh": "Weigh it",
    },
    "loupe": {"ring": "ring", "idlers": "idlers", "cogs": "cogs"},
    "other_side": {"over": "under", "under": "over"},
    "mark": MARKS,
    "pressed": PRESSED,
    "step": STEPS | PROVING | LED | JOINED,
    "note": NOTES,
    "state": STATES,
    "seen": SEEN_STATES,
    "symptom": SYMPTOM_WORDS,
    "cause": CAUSE_WORDS,
    "part": PART_WORDS,
    "tool": TOOL_WORDS,
    "wear_way": WAY_WORDS,
    "turning": TURNING_WORDS,
    "exercise": EXERCISE_WORDS,
    "family": FAMILY_WORDS,
    "asked": ASKED_WORDS,
    "asked_part": PART_ASKED,
    "option": OPTION_WORDS,
    "method": METHOD_WORDS,
    "led": LED_WORDS,
    "hangs": {"lower": "lower", "higher": "higher"},
    "token_kind": {"program": "a program", "device": "a device"},
    "role": {"bench": "the bench", "counter": "the counter"},
    "beside": {"before": "in front of", "behind": "behind", "above": "above", "below": "below"},
    "flag": FLAGS,
    "chain_field": CHAIN_FIELDS,
    "lube": LUBES,
    "riding": RIDINGS,
    "ending": ENDINGS,
    "due": DUE_STATES,
    "source": SOURCES,
    "piece_source": PIECE_SOURCES,
    "cost_part": COST_PARTS,
    "seen_button": SEEN_BUTTONS,
    "stage": STAGE_NAMES,
    "way": {
        "stand": "To the stand",
        "job": "To the job as it is now",
        "bike": "To the bike",
        "bin": "To the bin",
        "shop": "To the shop",
        "chain": "To the chain",
        "sign_in": "Sign in",
    },
}

CHOICES: dict[str, dict[str, str]] = {
    "take_up.type": TAKE_UPS,
    "take_up.taste": AXLE_PLACES,
    "chain.width": WIDTHS,
    "chain.teeth_width": WIDTHS,
    "take_up.class": CAGE_CLASSES,
    "suspension.type": SUSPENSIONS,
    "chain.joiner": JOINER_NAMES,
    "chain.box_ends": BOX_ENDS,
    "old_chain.changed": TERMS["changed_part"],
    "house_rule": HOUSE_RULES,
}
"""The words of each field that is chosen from a list."""


def word_of(term: Term) -> str:
    """A term of the trade; if the list does not have it, its key, for values that were typed into a file.

    >>> word_of(Term("joiner", "joining_pin"))
    'joining pin'
    """
    words = CHOICES.get(term.kind) or TERMS.get(term.kind, {})
    return words.get(term.key, term.key)


def tells_of_motor(*texts: str) -> bool:
    """Whether a name or a complaint mentions an e-bike, so that its battery is mentioned too.

    >>> tells_of_motor("Gannet", "Motor cuts out"), tells_of_motor("Otter", "Jumps under load")
    (True, False)
    """
    return any(word in text.lower() for text in texts for word in MOTOR_WORDS)


def sources_named(text: str) -> list[str]:
    """The ways of coming in that a text names, for searching pieces.

    >>> sources_named("Scan"), sources_named("")
    (['scan'], [])
    """
    named = text.strip().lower()
    return [source for source, word in PIECE_SOURCES.items() if named and named in word]


def kinds_named(text: str) -> list[str]:
    """The take-ups that a text names, for searching bikes by kind.

    >>> kinds_named("BMX"), kinds_named("hub"), kinds_named("a")
    (['slot'], ['arm'], [])
    """
    named = text.strip().lower()
    return [kind for kind, words in KIND_WORDS.items() if len(named) >= LEAST_KIND_LETTERS and named in words.bikes]
