"""How often loops that kill programs and fill disks go round: few times by default, often where the switch says so."""

import os

LONG = os.environ.get("FRESH_CHAIR_LOOPS") == "long"
KILLS = 100 if LONG else 20
FULL_DISKS = 15 if LONG else 5
