"""The meaning of a chair's answers. Pure: text in, facts and states out; the text is hostile."""
