"""The state of a sitting: its line of time, its attempts with their lanes and marks, and whole attempts reshaped."""
