"""Tries to break the workshop, and says what held; other seeds on each run, printed. Called by scripts/campaign."""

import argparse
import random
import sys
import time
from collections.abc import Callable

from campaign_bench import bench, pairs
from campaign_growth import growth
from campaign_input import bikes, images
from campaign_kills import kills, kills_of_commands
from campaign_odd import odd
from campaign_service import disk_and_lock, requests, slow_clients
from campaign_soak import soak
from campaign_tls import over_tls
from campaign_tried import SHORT, Tried
from rich.console import Console
from rich.table import Table


def network(seed: int, count: int) -> Tried:
    """The shop's network; loaded only then, for what draws up documents starts anew with all that stands above."""
    from campaign_network import network

    return network(seed, count)


def main() -> None:
    """Runs every part, and prints what held."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--short", action="store_true", help="under a minute")
    parser.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10**6))
    arguments = parser.parse_args()
    seed, short = arguments.seed, arguments.short
    if short:
        SHORT.set()
    parts: list[Callable[[], Tried]] = [
        lambda: bikes(seed, 20 if short else 8000),
        lambda: odd(seed, 2 if short else 100_000),
        lambda: requests(seed, 60 if short else 10_000),
        lambda: kills(seed, 2 if short else 100),
        lambda: kills_of_commands(seed, 2 if short else 100),
        lambda: bench(seed, 60 if short else 20_000),
        lambda: pairs(seed, 1 if short else 200, with_all=not short),
        lambda: soak(seed, 40 if short else 20_000),
        disk_and_lock,
        images,
        slow_clients,
        lambda: over_tls(seed),
        lambda: growth(*(1000, 12) if short else (10_000, 24)),
        lambda: network(seed, 2 if short else 3000),
    ]
    table = Table("what", "tried", "held", "broke", "measured", title=f"seed {seed}")
    lines: list[str] = []
    for part in parts:
        start = time.monotonic()
        tried = part()
        lines += tried.broke
        held = tried.tried - len(tried.broke)
        took = f"{time.monotonic() - start:.0f} s"
        table.add_row(
            tried.part, str(tried.tried), str(held), str(len(tried.broke)), ", ".join(filter(None, [tried.told, took]))
        )
    Console(width=120).print(table)
    print(*lines[:40], sep="\n")
    sys.exit(1 if lines else 0)


if __name__ == "__main__":
    main()
