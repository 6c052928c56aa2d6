"""A study at work: layers opened by id, what is near kept, training as it stands, readouts."""
