"""Contents of a sitting's journal by family, each kind with its phases, effect, words and line of text."""
