"""What a chair itself says: who it is, what state it is in, what differs from before. Pure; nothing here asks it."""
