"""What every screen is made of: the frame, sheets, help, themes, plain terminals."""
