"""Fresh Chair: time newcomers at freshly booted desktops, and say honestly which served them better."""

__version__ = "0.1.0"
