"""The method in hand: a classifier's id, its settings and the seed, as the browser names them."""

from dataclasses import dataclass
from typing import Any

from pydantic import Field, ValidationError

from kitesort.core.classify.protocol import ClassifierSpec
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.errors import BadSettingsError
from kitesort.core.outside_json import read_json
from kitesort.core.settings import Strict, describe_invalid, validate_settings

MOST_SEED = 2**31 - 1


class ToldMethod(Strict):
    """A method of any family as the browser tells it."""

    id: str = Field(max_length=80)
    settings: dict[str, Any] = {}
    seed: int = Field(0, ge=0, le=MOST_SEED)


@dataclass(frozen=True)
class Method:
    id: str
    settings: dict[str, Any]
    seed: int

    @property
    def spec(self) -> ClassifierSpec:
        return CLASSIFIERS[self.id]


def parse_method(text: str) -> Method:
    """A method from JSON; the usual one where nothing is said.

    Raises
    ------
    BadSettingsError : no JSON, or settings out of bounds. NotFoundError : no such method.
    """
    if not text:
        return USUAL_METHOD
    told = read_told(text)
    return checked_method(told.id, told.settings, told.seed)


def read_told(text: str) -> ToldMethod:
    """Raises BadSettingsError : no JSON, or no method."""
    try:
        return ToldMethod.model_validate(read_json(text))
    except ValidationError as error:
        said = describe_invalid(error)
        raise BadSettingsError(f"The method cannot be read. {said}") from error
    except ValueError as error:
        raise BadSettingsError("The method is no JSON.") from error


def checked_method(method_id: str, settings: dict[str, Any], seed: int) -> Method:
    """With every setting said, so that the same settings are the same method.

    Raises
    ------
    BadSettingsError, NotFoundError
    """
    spec = CLASSIFIERS[method_id]
    return Method(method_id, validate_settings(spec, settings).model_dump(mode="json"), seed)


USUAL_METHOD = checked_method("maximum-likelihood", {}, 0)
