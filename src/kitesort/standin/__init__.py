"""Small stand-ins for services that a study would use elsewhere; they ship with the program."""
