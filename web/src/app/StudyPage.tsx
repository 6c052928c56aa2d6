import { useParams } from "react-router";

import { sentenceOf } from "../api/problem";
import { useLayers } from "../api/queries/layers";
import { useScenes } from "../api/queries/scenes";
import { useStudy } from "../api/queries/studies";
import { StudyContext } from "../shared/study";
import { useViewStore } from "../shared/viewStore";
import { Blank } from "./Blank";
import { EmptyStudy } from "./EmptyStudy";
import { Shell } from "./Shell";
import { useOpenView } from "./useOpenView";

/** One study: what it holds is read first, then its view is opened as it was left. */
export function StudyPage() {
  const { studyId: text } = useParams();
  const studyId = Number(text);
  const study = useStudy(studyId);
  const scenes = useScenes(studyId);
  const layers = useLayers(studyId);
  const view = useViewStore((store) => store.view);
  useOpenView(study.data, scenes.data, layers.data);

  const error = study.error ?? scenes.error ?? layers.error;
  if (error && !view) return <Blank>{sentenceOf(error)}</Blank>;
  if (!study.data || !scenes.data || !layers.data) return <Blank>Opening the study …</Blank>;
  if (scenes.data.length === 0) {
    return (
      <StudyContext value={studyId}>
        <EmptyStudy study={study.data} />
      </StudyContext>
    );
  }
  if (!view) return <Blank>Opening the study …</Blank>;
  return (
    <StudyContext value={studyId}>
      <Shell study={study.data} />
    </StudyContext>
  );
}
