"""Commands about studies on servers: preparing one, listing its studies, and moving studies there and back."""
