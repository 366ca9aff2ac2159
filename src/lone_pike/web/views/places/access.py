"""Access: the tokens in force, and a new one's secret, which is shown once."""

from dataclasses import dataclass

from lone_pike.core.messages import Term
from lone_pike.drawing.charts.code import square_code
from lone_pike.store.access import TokenRow, tokens
from lone_pike.store.database import Database
from lone_pike.workshop.access import TOKEN_KINDS


@dataclass(frozen=True)
class AccessView:
    """The place: tokens with the word for their kind, the kinds that can be made, and a new secret with its code."""

    tokens: tuple[tuple[TokenRow, Term], ...]
    kinds: tuple[tuple[str, Term], ...]
    secret: str
    code: str
    problem: str
    typed: str


def access_view(database: Database, secret: str, problem: str, typed: str) -> AccessView:
    """The place. Parameters: secret, of a token just made; problem and typed, of one that could not be."""
    return AccessView(
        tokens=tuple((one, Term("token_kind", one.kind)) for one in tokens(database)),
        kinds=tuple((kind, Term("token_kind", kind)) for kind in TOKEN_KINDS),
        secret=secret,
        code=square_code(secret) if secret else "",
        problem=problem,
        typed=typed,
    )
