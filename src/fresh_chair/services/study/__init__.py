"""The open study: its plan, sittings, findings, what is known of its chairs, and marks kept beside a full disk."""
