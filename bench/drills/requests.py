"""Send many random requests, and tell those that were answered 500 or not in words.

`python -m bench.drills.requests --times 30000 --seed 7`
"""

from __future__ import annotations

import argparse
import logging
import random
import sys
import tempfile

# A workshop that has had so many is full of what nobody would have: the next begin in an empty one.
IN_ONE_WORKSHOP = 3000


def drill(times: int, seed: int) -> bool:
    """Send so many requests to fresh workshops and print what came of them; whether all was well."""
    # Loaded here: every file that is read aside begins with this module once more.
    from django.core.management import call_command

    from tests.fuzz import assault, fresh_workshop, lines

    well = True
    with tempfile.TemporaryDirectory() as folder:
        fresh_workshop(folder)
        logging.getLogger("django.request").disabled = True
        for begun in range(0, times, IN_ONE_WORKSHOP):
            told = assault(min(IN_ONE_WORKSHOP, times - begun), seed + begun)
            print(f"seed {seed + begun}: " + "\n".join(lines(told)), flush=True)
            well = well and not told.faults
            call_command("flush", verbosity=0, interactive=False)
    return well


if __name__ == "__main__":
    options = argparse.ArgumentParser()
    options.add_argument("--times", type=int, default=1000)
    options.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10**6))
    given = options.parse_args()
    sys.exit(0 if drill(given.times, given.seed) else 1)
