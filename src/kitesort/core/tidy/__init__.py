"""Class maps made fit to be drawn: steps that take a class map and give one."""
