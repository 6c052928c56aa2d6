"""Pixels that group themselves: methods, how many groups, what each is like."""
