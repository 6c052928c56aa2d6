"""Training sites as they were drawn."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import uuid4

from peewee import SQL
from pydantic_core import to_jsonable_python

from kitesort.core.errors import EditedElsewhereError, InputError, NotFoundError
from kitesort.core.newest import Newest
from kitesort.store.database import db, transaction
from kitesort.store.edits import Change, apply_edit, next_id, next_ids
from kitesort.store.models import ClassRow, SiteRow
from kitesort.store.records import LandClass, Site
from kitesort.store.studies import fetch

KEPT_ROWS = 200_000
KEPT_LISTS = 16
FEW_ROWS = 500  # asked for one by one
# The transaction that wrote a row as it is, and where it lies: another after every change.
_VERSION = "xmin::text || ctid::text"
ROW_VERSION = SQL(_VERSION).alias("row_version")
LIST_VERSION = (
    f"SELECT md5(string_agg(id || {_VERSION}, ' ' ORDER BY id)) FROM site WHERE study_id = %s"
)

SITE_COLUMNS = tuple(SiteRow._meta.sorted_field_names)

_Row = tuple[str | None, int, str]  # database, id, and which of all that the row ever was
_rows: Newest[_Row, Site] = Newest(KEPT_ROWS)


class Sites(tuple[Site, ...]):
    """The sites of a study at one moment, the earliest first; ``version`` is another one after
    every change, so that what is made of them can be remembered by it."""

    version: str

    @classmethod
    def of(cls, sites: Iterable[Site], version: str) -> "Sites":
        made = cls(sites)
        made.version = version
        return made


_lists: Newest[tuple[str | None, int, str], Sites] = Newest(KEPT_LISTS)


def list_sites(study_id: int) -> Sites:
    """As they were drawn. Asked for at every turn: while nothing has changed this is one small
    question."""
    with transaction():
        version = _list_version(study_id)
        key = (db.database, study_id, version)
        known = _lists.find(key)
        if known is not None:
            return known
        found = Sites.of(_read_list(study_id), f"{study_id} {version}")
        # What was read a moment later than its version is not remembered under it.
        if _list_version(study_id) == version:
            _lists.put(key, found)
            return found
        return Sites.of(found, f"{study_id} {uuid4()}")


def _list_version(study_id: int) -> str:
    return str(db.execute_sql(LIST_VERSION, (study_id,)).fetchone()[0])


def _read_list(study_id: int) -> list[Site]:
    """Rows that are as they were are not read again, and what the database holds is not checked
    again."""
    mine = SiteRow.study_id == study_id
    read: dict[_Row, Site] = {}
    with transaction():
        while True:  # until all that stands there at one moment is known
            rows = SiteRow.select(SiteRow.id, ROW_VERSION).where(mine).order_by(SiteRow.id)
            ids: Iterable[Any] = rows.tuples()
            now: list[_Row] = [(db.database, *row) for row in ids]
            found = {key: read.get(key) or _rows.find(key) for key in now}
            missing = [key[1] for key, site in found.items() if site is None]
            if not missing:
                return [site for site in found.values() if site is not None]
            few = SiteRow.id.in_(missing) if len(missing) <= FEW_ROWS else mine
            read |= _read_rows(few)


def _read_rows(wanted: Any) -> dict[_Row, Site]:
    """Straight from the driver: there may be tens of thousands."""
    query, parameters = SiteRow.select(SiteRow, ROW_VERSION).where(wanted).sql()
    read = {}
    for *values, row_version in db.execute_sql(query, parameters).fetchall():
        fields = dict(zip(SITE_COLUMNS, values, strict=True))
        geometry = fields["geometry"]
        if not (isinstance(geometry, dict) and "coordinates" in geometry):
            fields["geometry"] = {}  # a site without an outline, which can be removed
        site = Site.model_construct(**fields)
        key = (db.database, site.id, row_version)
        read[key] = site
        _rows.put(key, site)
    return read


def get_site(site_id: int) -> Site:
    return fetch(SiteRow, Site, site_id, "The site")


def create_site(
    study_id: int, class_id: int, geometry: dict[str, Any], note: str, client_key: str
) -> Site:
    """Add a site under the name that the browser gave it, once: asked again, the one that is there.

    Raises
    ------
    NotFoundError, InputError : a class that does not exist, or of another study.
    """
    with transaction():
        db.execute_sql("SELECT pg_advisory_xact_lock(hashtext(%s))", (client_key,))
        row = SiteRow.get_or_none(SiteRow.study_id == study_id, SiteRow.client_key == client_key)
        if row is not None:
            return Site.model_validate(row)
        (site,) = create_sites(study_id, [(class_id, geometry, note)], client_key)
        return site


def create_sites(
    study_id: int,
    drawn: Sequence[tuple[int, dict[str, Any], str]],
    client_key: str | None = None,
) -> list[Site]:
    """Add sites (class id, geometry, note) as one edit.

    Raises
    ------
    NotFoundError, InputError : a class that does not exist, or of another study.
    """
    names = {c: _class_of(study_id, c).name for c, _, _ in drawn}
    title = f"Draw a site of {next(iter(names.values()))}"
    if len(drawn) > 1:
        title = f"Add {len(drawn)} sites"
    with transaction():
        changes = [
            Change(
                "site",
                site_id,
                None,
                {
                    "study_id": study_id,
                    "class_id": c,
                    "geometry": geometry,
                    "note": note,
                    "client_key": client_key,
                },
            )
            for site_id, (c, geometry, note) in zip(
                next_ids("site", len(drawn)), drawn, strict=True
            )
        ]
        apply_edit(study_id, title, changes)
        read = _read_rows(SiteRow.id.in_([change.id for change in changes]))
    by_id = {site.id: site for site in read.values()}
    return [by_id[change.id] for change in changes]


def update_site(site_id: int, values: dict[str, Any], version: str | None = None) -> Site:
    """Change outline, class, note or date; with a ``version``, only of the site as it was then.

    Raises
    ------
    NotFoundError. EditedElsewhereError : it is another one now.
    """
    with transaction():
        SiteRow.select().where(SiteRow.id == site_id).for_update().execute()
        return _update_site(get_site(site_id), values, version)


def _update_site(old: Site, values: dict[str, Any], version: str | None) -> Site:
    if version not in (None, old.version):
        raise EditedElsewhereError(
            "The site was changed in another window meanwhile. It was left as it is there."
        )
    if "class_id" in values:
        _class_of(old.study_id, values["class_id"])
    before = {key: to_jsonable_python(getattr(old, key)) for key in values}
    values = {key: to_jsonable_python(value) for key, value in values.items()}
    title = "Reshape a site" if "geometry" in values else "Change a site"
    apply_edit(old.study_id, title, [Change("site", old.id, before, values)])
    return get_site(old.id)


@dataclass(frozen=True)
class SiteEdit:
    """What becomes of a site: ``values`` to be changed, None for it to go; without an id it is a
    new one (class_id, geometry, note, true_on)."""

    id: int | None
    values: dict[str, Any] | None


def edit_sites(study_id: int, title: str, edits: Sequence[SiteEdit]) -> list[int]:
    """Make many changes as one edit; the ids of the sites that were changed or added.

    Raises
    ------
    NotFoundError, InputError : a site or class that is not there, or of another study.
    """
    with transaction():
        for values in (edit.values for edit in edits):
            if values and "class_id" in values:
                _class_of(study_id, values["class_id"])
        rows = {site.id: site for site in list_sites(study_id)}
        missing = [e.id for e in edits if e.id is not None and e.id not in rows]
        if missing:
            raise NotFoundError("A site has been removed meanwhile. Nothing was changed.")
        changes = [_change_of(study_id, edit, rows) for edit in edits]
        apply_edit(study_id, title, changes)
    return [change.id for change in changes if change.after is not None]


def _change_of(study_id: int, edit: SiteEdit, rows: dict[int, Site]) -> Change:
    if edit.id is None:
        return Change("site", next_id("site"), None, {"study_id": study_id, **(edit.values or {})})
    row = rows[edit.id].model_dump(mode="json", exclude={"id"})
    if edit.values is None:
        return Change("site", edit.id, row, None)
    return Change("site", edit.id, {key: row[key] for key in edit.values}, edit.values)


def _class_of(study_id: int, class_id: int) -> LandClass:
    """Raises NotFoundError; InputError for a class of another study."""
    found = fetch(ClassRow, LandClass, class_id, "The class")
    if found.study_id != study_id:
        raise InputError("The class belongs to another study.")
    return found


def delete_site(site_id: int) -> None:
    old = get_site(site_id)
    row = old.model_dump(mode="json", exclude={"id"})
    apply_edit(old.study_id, "Delete a site", [Change("site", site_id, row, None)])
