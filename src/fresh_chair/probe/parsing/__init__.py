"""What a chair's answers mean. Pure: text in, facts and states out; the text is hostile."""
