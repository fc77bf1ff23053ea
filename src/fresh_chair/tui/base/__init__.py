"""The parts of every screen: the frame, sheets, help, themes, plain terminals."""
