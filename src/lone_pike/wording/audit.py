"""What `lone-pike check` says about the chain ledger, by the code of what does not add up."""

from lone_pike.store.audit import Audit

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


def sum_lines(found: Audit) -> list[str]:
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


def trouble_lines(found: Audit) -> list[str]:
    """What does not add up, and which pieces or bikes it is about."""
    return [f"chain: {TROUBLES[one.code]}: {', '.join(one.names)}" for one in found.troubles]
