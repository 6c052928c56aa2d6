"""The made-up demo study, Ulverhythe Levels, generated from a seed; nothing large is shipped."""
