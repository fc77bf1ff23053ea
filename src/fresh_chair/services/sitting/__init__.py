"""Use cases of a sitting: logged live or from a recording, corrected, viewed, written as notes."""
