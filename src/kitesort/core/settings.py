"""Settings of operations: base class, checking, and what is wrong in one sentence."""

from typing import Any, Protocol

from pydantic import BaseModel, ConfigDict

from kitesort.core.errors import BadSettingsError


class Settings(BaseModel):
    """Base of every operation's settings: frozen, nothing unknown taken."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class HasSettings(Protocol):
    """Any operation of any family."""

    @property
    def title(self) -> str: ...

    @property
    def settings(self) -> type[Settings]: ...


def validate_settings(spec: HasSettings, values: dict[str, Any]) -> Any:
    """Settings of an operation from data.

    Raises
    ------
    BadSettingsError : out of bounds or unknown; the sentence names the setting.
    """
    try:
        return spec.settings.model_validate(values)
    except ValueError as error:
        raise BadSettingsError(f"{spec.title}: {describe_invalid(error)}") from error


def describe_invalid(error: ValueError) -> str:
    """One sentence from a validation error."""
    details = getattr(error, "errors", None)
    if details is None:
        return str(error)
    first = details()[0]
    where = ".".join(str(part) for part in first["loc"]) or "the settings"
    message = first["msg"].removeprefix("Value error, ").lower()
    return f"{where.replace('_', ' ')}: {message}."
