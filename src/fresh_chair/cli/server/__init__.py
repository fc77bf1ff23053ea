"""Commands about studies on servers: preparing one, what is on it, and moving studies there and back."""
