"""The short form of the campaign: what tries to break the workshop does not."""

import subprocess
import sys


def test_nothing_breaks_in_the_short_campaign() -> None:
    done = subprocess.run(
        [sys.executable, "scripts/campaign.py", "--short"], capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stdout + done.stderr
