"""What a metadata file says, by key; whatever is missing or cannot be understood is named."""

from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date

from pydantic import ValidationError

from kitesort.core.errors import UnreadableFileError


@dataclass(frozen=True)
class Told:
    """The values of one file; every way of asking raises UnreadableFileError with the key."""

    file: str
    values: Mapping[str, str]

    def text(self, key: str) -> str:
        value = self.values.get(key)
        if not value:
            raise UnreadableFileError(f"{self.file} does not give {key}. Deliver it again.")
        return value

    def number(self, key: str) -> float:
        return self.as_number(key, self.text(key))

    def number_if_told(self, key: str) -> float | None:
        """None where the key is missing; a value that is no number is refused all the same."""
        value = self.values.get(key)
        return self.as_number(key, value) if value else None

    def as_number(self, key: str, value: str) -> float:
        try:
            return float(value)
        except ValueError as error:
            raise self._wrong(key, value, "a number") from error

    def day(self, key: str) -> date:
        value = self.text(key)
        try:
            return date.fromisoformat(value[:10])
        except ValueError as error:
            raise self._wrong(key, value, "a date") from error

    def _wrong(self, key: str, value: str, wanted: str) -> UnreadableFileError:
        return UnreadableFileError(
            f"{self.file} gives {key} as “{value[:40]}”, which is not {wanted}. Deliver it again."
        )


@contextmanager
def named_refusals(file: str) -> Iterator[None]:
    """Values that are numbers, but impossible ones, are told by what they stand for."""
    try:
        yield
    except ValidationError as error:
        first = error.errors()[0]
        what = " ".join(str(part).replace("_", " ") for part in first["loc"])
        raise UnreadableFileError(
            f"{file} gives something impossible for {what}: {first['msg'].lower()}. Deliver it "
            "again."
        ) from error
