"""The shop's settings: stored with a history of their own, and merged with changes made in another tab."""

import os
from collections.abc import Mapping
from pathlib import Path

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.messages import Message, Raw
from lone_pike.core.refusals import Stale
from lone_pike.formats.records.merging import merge, message_with_merge
from lone_pike.formats.records.shop import Shop, settings_message, settings_of, settings_typed, shop_from
from lone_pike.store.database import Database
from lone_pike.store.history import newest_of, revise, revision_by_id, step_back
from lone_pike.store.shop import shop_history, shop_history_to_write, shop_now
from lone_pike.workshop.sorting import sort_anew


def shop_of(database: Database) -> Shop:
    """The current settings."""
    return shop_from(shop_now(database).settings)


def settle(database: Database, saw: int | None, form: Mapping[str, str], now: str) -> None:
    """Stores what a form changes.

    Raises: InvalidInput, by setting, also if backups cannot be written into the folder; then nothing changes.
    """
    with database.atomic() as connection:
        history_id = shop_history_to_write(connection, now)
        newest = newest_of(connection, history_id)
        base = revision_by_id(connection, history_id, saw) or newest
        was, is_now = (settings_of(shop_from(one.content)) for one in (base, newest))
        merged = merge(was, is_now, settings_typed(shop_from(base.content), form), None)
        settings = settings_of(shop_from(merged.merged))
        if settings["backup_folder"] != is_now["backup_folder"]:
            check_folder(settings["backup_folder"])
        if settings != is_now:
            message = message_with_merge(settings_message(is_now, settings), merged, _elsewhere_message)
            revise(connection, history_id, settings, message, now)
            sort_anew(connection, now)


def undo_settings(database: Database, saw: int | None, now: str) -> None:
    """Undoes the change that the page showed. Raises: Stale if there has been another since."""
    with database.atomic() as connection:
        history_id = shop_history(connection)
        if history_id is None:
            return
        newest = newest_of(connection, history_id)
        if saw != newest.id:
            raise Stale("nothing_undone", last=newest.message)
        step_back(connection, history_id)
        sort_anew(connection, now)


def _elsewhere_message(elsewhere: dict[str, tuple[object, object]]) -> Message:
    """The message about settings that were changed elsewhere."""
    before, after = ({name: change[i] for name, change in elsewhere.items()} for i in (0, 1))
    return settings_message(before, after)


def check_folder(name: str | None) -> None:
    """Refuses a folder for backups that is not there or cannot be written to. Raises: InvalidInput."""
    if name and not (Path(name).is_absolute() and Path(name).is_dir() and os.access(name, os.W_OK)):
        raise InvalidInput([Fault("backup_folder", Raw(name), Message("a_folder"))])
