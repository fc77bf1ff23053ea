"""Use cases of walks: begun, viewed, changed on the way, contests, notes gone through; imports those of sittings."""
