"""Fresh Chair: time newcomers at freshly booted desktops, and say honestly which served them better."""

import os

__version__ = "0.1.0"

# The matrices of a study are small: threads of the arithmetic library would only take turns from the screen's own,
# and from each other. It reads this once, when it is loaded.
for _name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"):
    os.environ.setdefault(_name, "1")
