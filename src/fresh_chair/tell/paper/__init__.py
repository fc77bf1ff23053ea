"""What is handed out and laid on the bench, as one PDF whose text can be selected."""
