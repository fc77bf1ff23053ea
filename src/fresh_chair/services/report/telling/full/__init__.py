"""The full report, for those who check; it stands on the parts in telling, and on the build of a chair in makers."""
