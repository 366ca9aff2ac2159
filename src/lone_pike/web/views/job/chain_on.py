"""The chain that is on a job's bike: its wear, and what the next one will do on its cassette."""

from lone_pike.core.messages import Message, number
from lone_pike.core.wear.replacing import WearPart, percent
from lone_pike.store.chains import chain_on
from lone_pike.store.database import Database
from lone_pike.web.views.job.work import Work
from lone_pike.web.views.places.chains import ChainLine, chain_line
from lone_pike.workshop.clock import today
from lone_pike.workshop.due import jump_on, standing_rows


def chain_known(database: Database, work: Work) -> ChainLine | None:
    """The chain that is on the bike, with its wear; None if none is known."""
    row = chain_on(database.connection, work.job.bike_id)
    if row is None:
        return None
    return chain_line(standing_rows(database, [row], work.shop, today())[0], today())


def jump_messages(database: Database, work: Work) -> tuple[Message, ...]:
    """Whether a new chain may jump on the cassette, how far past its limit one ran there, and which cogs to look at;
    None if a new cassette goes on too."""
    observed, sized = work.job.observed, work.sized
    if sized is None or WearPart.CASSETTE in observed.replaced:
        return ()
    jump = jump_on(database.connection, work.job.bike_id, sized.bike.cogs, work.shop, observed.gauged)
    if jump is None:
        return ()
    jump_message = Message(
        "jump_likely" if jump.is_likely else "jump_may",
        worn=percent(jump.worn_percent),
        past=percent(jump.past_percent),
        cogs=tuple(number(cog) for cog in jump.cogs),
    )
    return (jump_message, Message("jump_used" if jump.by_use else "jump_smallest"))
