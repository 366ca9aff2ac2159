"""Folders that a shop names."""

import os
from pathlib import Path

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.messages import Message, Raw


def check_folder(name: str | None) -> None:
    """Refuses a folder for backups that is not there or cannot be written to. Raises: InvalidInput."""
    if name and not (Path(name).is_absolute() and Path(name).is_dir() and os.access(name, os.W_OK)):
        raise InvalidInput([Fault("backup_folder", Raw(name), Message("a_folder"))])
