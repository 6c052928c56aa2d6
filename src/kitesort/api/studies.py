"""Studies and what the browser wants to find again."""

from kitesort.api.accuracy_schemas import ReferencePointOut
from kitesort.api.routes import api_router
from kitesort.api.schemas import Id, StudyCreate, StudyPatch
from kitesort.store import studies
from kitesort.store.records import Study

router = api_router("studies")


@router.get("/studies")
def get_studies() -> list[Study]:
    return studies.list_studies()


@router.post("/studies", status_code=201)
def create_study(body: StudyCreate) -> Study:
    return studies.create_study(body.name)


@router.get("/studies/{study_id}")
def get_study(study_id: Id) -> Study:
    return studies.get_study(study_id)


@router.patch("/studies/{study_id}")
def update_study(study_id: Id, body: StudyPatch) -> Study:
    return studies.update_study(study_id, name=body.name, view=body.view)


@router.get("/studies/{study_id}/points")
def get_points(study_id: Id) -> list[ReferencePointOut]:
    """The study's reference points; they check and never train."""
    studies.get_study(study_id)
    return [
        ReferencePointOut.model_validate(point, from_attributes=True)
        for point in studies.list_points(study_id)
    ]
