"""The language of checks: its parser, and the meaning of answers to it. Imports core's root."""
