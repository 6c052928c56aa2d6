"""Errors a user can act on.

KiteSortError
├── InputError            what was given cannot be used as it is
│   ├── UnreadableFileError, GridMismatchError, MissingRoleError, BadSettingsError,
│   │                     BadClassifierError, RefusedAddressError
│   ├── FormulaError      with the place of the mistake in the text
│   ├── SiteError         SelfCrossingError, OutsideSceneError, NoValidPixelsError
│   └── TrainingError     TooFewPixelsError, SingularCovarianceError, TooFewClassesError
├── NotFoundError         something named does not exist (any more)
├── ConflictError         a name or state is taken: DuplicateNameError, NothingToUndoError,
│                         EditedElsewhereError, NewerDatabaseError
├── CatalogueError        a catalogue elsewhere did not give what was asked of it
├── StorageError          the disk would not take it: DiskFullError
└── CancelledError        the user stopped a run

Each carries a stable ``code`` for programs and a sentence for people.
"""

from typing import ClassVar


class KiteSortError(Exception):
    """Root of all errors that are told to the user as a sentence."""

    code: ClassVar[str] = "error"

    @property
    def sentence(self) -> str:
        return str(self)


class InputError(KiteSortError, ValueError):
    code = "input"


class UnreadableFileError(InputError):
    code = "unreadable-file"


class GridMismatchError(InputError):
    code = "grid-mismatch"


class MissingRoleError(InputError):
    code = "missing-role"


class BadClassifierError(InputError):
    """A file that is no trained classifier of ours."""

    code = "bad-classifier"


class BadSettingsError(InputError):
    code = "bad-settings"


class FormulaError(InputError):
    """A formula that cannot be read; the mistake stands from ``start`` to ``end`` (characters).
    ``instead`` is the nearest known name, where one was meant."""

    code = "formula"

    def __init__(
        self, sentence: str, start: int = 0, end: int = 0, instead: str | None = None
    ) -> None:
        super().__init__(sentence)
        self.start, self.end, self.instead = start, end, instead


class SiteError(InputError):
    code = "site"


class SelfCrossingError(SiteError):
    code = "site-crosses-itself"


class OutsideSceneError(SiteError):
    code = "site-outside-scene"


class NoValidPixelsError(SiteError):
    code = "site-without-pixels"


class TrainingError(InputError):
    code = "training"


class TooFewPixelsError(TrainingError):
    code = "too-few-pixels"


class SingularCovarianceError(TrainingError):
    code = "singular-covariance"


class TooFewClassesError(TrainingError):
    code = "too-few-classes"


class NotFoundError(KiteSortError, LookupError):
    code = "not-found"


class ConflictError(KiteSortError):
    code = "conflict"


class DuplicateNameError(ConflictError):
    code = "duplicate-name"


class NewerDatabaseError(ConflictError):
    code = "newer-database"


class NothingToUndoError(ConflictError):
    code = "nothing-to-undo"


class EditedElsewhereError(ConflictError):
    code = "edited-elsewhere"


class RefusedAddressError(InputError):
    code = "refused-address"


class CatalogueError(KiteSortError):
    code = "catalogue"


class StorageError(KiteSortError, OSError):
    code = "storage"


class DiskFullError(StorageError):
    code = "disk-full"


class CancelledError(KiteSortError):
    code = "cancelled"

    def __init__(self, sentence: str = "Cancelled. Nothing was written.") -> None:
        super().__init__(sentence)
