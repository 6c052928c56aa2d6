"""Settings of operations: base class, checking, and what is wrong in one sentence."""

from typing import Any, Protocol

from pydantic import BaseModel, ConfigDict

from kitesort.core.errors import BadSettingsError


class Settings(BaseModel):
    """Base of every operation's settings and of their parts: frozen, nothing unknown taken, every
    number finite."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


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
        raise BadSettingsError(f"{spec.title}: {describe_invalid(error, spec.settings)}") from error


def describe_invalid(error: ValueError, model: type[BaseModel] | None = None) -> str:
    """One sentence from a validation error; fields are called as the form of ``model`` does."""
    details = getattr(error, "errors", None)
    if details is None:
        return str(error)
    first = details()[0]
    names = [str(part).replace("_", " ") for part in first["loc"]] or ["the settings"]
    field = model.model_fields.get(str(first["loc"][0])) if model and first["loc"] else None
    if field and field.title:
        names[0] = field.title
    message = first["msg"].removeprefix("Value error, ").lower()
    return f"{'.'.join(names)}: {message}."
