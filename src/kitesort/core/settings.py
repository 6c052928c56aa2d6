"""Settings of operations: base class, checking, and what is wrong in one sentence."""

from collections.abc import Mapping
from typing import Any, Protocol, Self

from pydantic import BaseModel, ConfigDict, GetCoreSchemaHandler
from pydantic_core import core_schema

from kitesort.core.errors import BadSettingsError


def _make_strict(schema: Any) -> None:
    """Numbers and truth values, however deep; dates stay lenient, since JSON has none."""
    if isinstance(schema, dict):
        if schema.get("type") in ("int", "float", "bool"):
            schema["strict"] = True
        for key, part in schema.items():
            if key != "default":
                _make_strict(part)
    elif isinstance(schema, list | tuple):
        for part in schema:
            _make_strict(part)


class FreshCopies(BaseModel):
    """A copy with other values computes its cached properties anew."""

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        copied = super().model_copy(update=update, deep=deep)
        for name in copied.__dict__.keys() - type(self).model_fields.keys():
            del copied.__dict__[name]
        return copied


class Strict(FreshCopies):
    """What comes from outside: nothing unknown is taken, every number is finite, and only a number
    is taken for one: neither ``false`` nor a text."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    @classmethod
    def __get_pydantic_core_schema__(
        cls, source: Any, handler: GetCoreSchemaHandler
    ) -> core_schema.CoreSchema:
        schema = handler(source)
        _make_strict(schema)
        return schema


class Settings(Strict):
    """Base of every operation's settings and of their parts."""

    model_config = ConfigDict(frozen=True)


def titled(titles: dict[str, str]) -> dict[str, Any]:
    """For a field with a few fixed values: how a form calls each of them."""
    return {"choices": titles}


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
    names = [str(part).replace("_", " ") for part in first["loc"]]
    field = model.model_fields.get(str(first["loc"][0])) if model and first["loc"] else None
    if field and field.title:
        names[0] = field.title
    message = first["msg"].removeprefix("Value error, ").lower()
    return f"{'.'.join(names)}: {message}." if names else f"{message}."


def require_odd(side: int) -> int:
    """For a setting: a window has a pixel in its middle."""
    if side % 2 == 0:
        raise ValueError("the window's side must be odd")
    return side
