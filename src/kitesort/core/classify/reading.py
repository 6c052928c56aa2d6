"""A trained classifier from its file."""

from kitesort.core.classify.applicability import restore_applicability
from kitesort.core.classify.conformal import restore_calibration
from kitesort.core.classify.registry import CLASSIFIERS
from kitesort.core.classify.stored import StoredClassifier, read_told
from kitesort.core.errors import BadClassifierError
from kitesort.core.settings import validate_settings


def read_classifier(content: bytes) -> StoredClassifier:
    """The classifier that was written, ready to classify.

    Raises
    ------
    BadClassifierError : no classifier, damaged, or of a method or version that is not known here.
    BadSettingsError : its settings are none of the method's.
    """
    told, arrays = read_told(content)
    if told.method not in CLASSIFIERS:
        raise BadClassifierError(
            f"The classifier is of a method called “{told.method}”, which is not known here."
        )
    spec = CLASSIFIERS[told.method]
    if told.method_version != spec.version:
        raise BadClassifierError(
            f"The classifier is of version {told.method_version} of {spec.title}; this is version "
            f"{spec.version}. Train it again."
        )
    validate_settings(spec, told.settings)
    if len(set(told.roles)) < len(told.roles) or len(told.quantities) != len(told.roles):
        raise BadClassifierError("The classifier names a band twice, or not what its bands mean.")
    model = spec.restore(told.roles, arrays)
    known = {entry.code for entry in told.classes}
    if len(known) < len(told.classes) or set(model.codes.tolist()) - known:
        raise BadClassifierError("The classifier's classes are not those that it names.")
    return StoredClassifier(
        told, model, restore_calibration(arrays), restore_applicability(arrays, len(told.roles))
    )
