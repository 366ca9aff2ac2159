"""What is noted at the stand while a suspension is measured by hand: steps done, and the shock's pressures."""

from collections.abc import Mapping

Observed = dict[str, str]

STEPS = {
    "noted": "Shock pressure noted, the rebound setting too",
    "empty": "Air let out through the valve; on a coil the spring taken off",
    "compressed": "Fully compressed, and strapped there",
    "wrapped": "Chain wrapped round big/big, skipping the derailleur, and counted",
    "back": "Strap off, air or spring back in",
}
"""Steps in the order of the work, by the name they are kept under."""

LABELS = {"pressure_before": "Shock before", "pressure_after": "Shock put back", "steps": "Steps done"}
PREFIX = "observed."


def observed_of(base: Observed, newest: Observed, form: Mapping[str, str]) -> Observed:
    """What was observed: the newest, with what the form changed since the one it was made from.

    Emptied notes are taken out.
    """
    told = {name: form[PREFIX + name].strip()[:60] for name in LABELS if PREFIX + name in form}
    return merged(base, newest, {**base, **told})


def merged(base: Observed, newest: Observed, mine: Observed) -> Observed:
    """The newest, with what differs between the base and mine; what is emptied or gone there is taken out."""
    changed = {name: mine.get(name, "") for name in {**base, **mine} if mine.get(name, "") != base.get(name, "")}
    return {name: text for name, text in {**newest, **changed}.items() if text}


def changes_in_words(before: Observed, after: Observed) -> str:
    """What changed, in words; empty where nothing did.

    >>> changes_in_words({}, {"pressure_before": "185 psi"})
    'Shock before – → 185 psi'
    """
    named = [
        f"{LABELS[name]} {before.get(name) or '–'} → {after.get(name) or '–'}"
        for name in ("pressure_before", "pressure_after")
        if before.get(name) != after.get(name)
    ]
    if before.get("steps") != after.get("steps"):
        done = len(after["steps"].split(", ")) if after.get("steps") else 0
        named.append(f"{done} of {len(STEPS)} steps done")
    return ", ".join(named)
