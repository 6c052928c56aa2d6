"""Formulas: text to a checked tree, the tree to values, to typeset form and to words."""
