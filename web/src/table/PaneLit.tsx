import { useJudgement, useOddPixels } from "../api/queries/judging";
import { LitLayer, type Outline } from "../map";
import { useStation } from "../shared/stations";
import { useStudyId } from "../shared/study";
import { useView } from "../shared/viewStore";
import { useWork } from "../shared/workStore";

/** The unusual pixels of the chosen site, lit while the table of sites is open. */
export function PaneLit() {
  const station = useStation();
  const { tab } = useView("tab");
  const siteKey = useWork((store) => store.siteKey);
  const id = Number(siteKey);
  return station === "train" && tab === "sites" && Number.isInteger(id) && id > 0 ? (
    <OddPixels siteId={id} />
  ) : null;
}

function OddPixels({ siteId }: { readonly siteId: number }) {
  const studyId = useStudyId();
  const view = useView("sceneId", "roles");
  const { data: judgement } = useJudgement(studyId, view);
  const isOdd = judgement?.sites.some(({ id, n_odd }) => id === siteId && n_odd > 0) ?? false;
  const { data } = useOddPixels(studyId, isOdd ? siteId : null, view);
  return data?.geometry ? <LitLayer outline={data.geometry as unknown as Outline} /> : null;
}
