"""How often loops that kill programs and fill disks go round: few times by default, often where the switch says so."""

import os

_LOOPS = os.environ.get("FRESH_CHAIR_LOOPS", "")
KILLS = {"long": 100, "all": 200}.get(_LOOPS, 20)
FULL_DISKS = {"long": 15, "all": 30}.get(_LOOPS, 5)
