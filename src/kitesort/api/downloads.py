"""What a file that is taken away is called."""

from urllib.parse import quote


def file_stem(title: str) -> str:
    """Letters and digits of a title, in small letters, with hyphens between."""
    return "-".join("".join(c if c.isalnum() else " " for c in title).split()).lower()


def attachment(name: str) -> str:
    """The header that says so; letters beyond ASCII as RFC 6266 has them."""
    if name.isascii():
        return f'attachment; filename="{name}"'
    return f"attachment; filename*=utf-8''{quote(name)}"
