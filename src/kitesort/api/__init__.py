"""The web interface to the store and the queue; no arithmetic here."""
