import { useEffect } from "react";
import { useParams } from "react-router";

import { sentenceOf } from "../api/problem";
import { useMaps } from "../api/queries/maps";
import { useScenes } from "../api/queries/scenes";
import { useStudy } from "../api/queries/studies";
import { StudyContext } from "../shared/study";
import { createForStudy } from "../shared/studyStore";
import { useViewStore } from "../shared/viewStore";
import { Blank } from "./Blank";
import { EmptyStudy } from "./EmptyStudy";
import { HomeLink } from "./HomeLink";
import { Shell } from "./Shell";
import { useOpenView } from "./useOpenView";

/** The study that the address names; each starts afresh, once the one before has ended. */
export function StudyPage() {
  const studyId = Number(useParams().studyId);
  if (!Number.isSafeInteger(studyId) || studyId < 1) {
    return (
      <Blank>
        The address names no study. <HomeLink />
      </Blank>
    );
  }
  return <Entrance key={studyId} studyId={studyId} />;
}

const useEntered = createForStudy<{ studyId: number | null }>(() => ({ studyId: null }));

/** What is left is cleared away after the first drawing of what comes: nothing is read before. */
function Entrance({ studyId }: { readonly studyId: number }) {
  const entered = useEntered((store) => store.studyId);
  useEffect(() => useEntered.setState({ studyId }), [studyId]);
  return entered === studyId ? <OneStudy studyId={studyId} /> : <Blank>Opening the study …</Blank>;
}

/** One study: what it holds is read first, then its view is opened as it was left. */
function OneStudy({ studyId }: { readonly studyId: number }) {
  const study = useStudy(studyId);
  const scenes = useScenes(studyId);
  const layers = useMaps(studyId);
  const view = useViewStore((store) => store.view);
  useOpenView(study.data, scenes.data, layers.data);

  const error = study.error ?? scenes.error ?? layers.error;
  if (error && !view)
    return (
      <Blank>
        {sentenceOf(error)} <HomeLink />
      </Blank>
    );
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
