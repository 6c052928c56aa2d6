"""How right a map is."""
