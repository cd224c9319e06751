"""Send many random requests, and tell those that were answered 500 or not in words.

`python -m bench.drills.requests --times 30000 --seed 7`
"""

from __future__ import annotations

import argparse
import logging
import random
import sys
import tempfile


def drill(times: int, seed: int) -> bool:
    """Send so many requests to a fresh workshop and print what came of them; whether all was well."""
    # Loaded here: every file that is read aside begins with this module once more.
    from tests.fuzz import assault, fresh_workshop, lines

    with tempfile.TemporaryDirectory() as folder:
        fresh_workshop(folder)
        logging.getLogger("django.request").disabled = True
        told = assault(times, seed)
    print(f"seed {seed}: " + "\n".join(lines(told)))
    return not told.faults


if __name__ == "__main__":
    options = argparse.ArgumentParser()
    options.add_argument("--times", type=int, default=1000)
    options.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10**6))
    given = options.parse_args()
    sys.exit(0 if drill(given.times, given.seed) else 1)
