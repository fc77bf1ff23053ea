"""Documents for each reader, made from an open study; it imports the services below, and the model in tell."""
