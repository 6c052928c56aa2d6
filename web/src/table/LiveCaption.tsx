import { useClassifiers } from "../api/queries/runs";
import { BandChoice } from "../shared/BandChoice";
import type { Training } from "../api/types";
import { formatTime, plural } from "../shared/format";
import { Handle } from "../shared/Handle";
import { useCurrentScene, useCurrentTraining } from "../shared/useCurrent";
import { useView } from "../shared/viewStore";
import type { PaneIndex, PaneShow } from "../shared/view";
import { LevelChoice } from "./LevelChoice";
import { LitChoice } from "./LitChoice";
import { ShowChoice } from "./ShowChoice";

interface Props {
  readonly index: PaneIndex;
  readonly show: Extract<PaneShow, { kind: "live" }>;
}

export function LiveCaption({ index, show }: Props) {
  const scene = useCurrentScene();
  const { roles, method: inHand } = useView("roles", "method");
  const { data: classifiers } = useClassifiers();
  const { data: training, isPlaceholderData, isFetching } = useCurrentTraining(show.method);
  const { id } = show.method ?? inHand;
  const method = classifiers?.find((c) => c.id === id)?.title.toLowerCase() ?? "";
  const nSites = training?.live.n_sites ?? null;
  return (
    <>
      <ShowChoice index={index} show={show} />
      {training?.problem ? (
        <>: {training.problem}</>
      ) : (
        <>
          , {method}
          <LitChoice index={index} show={show} /> on{" "}
          <Handle text={plural(roles.length, "band")} label="Change the bands that go in">
            {() => <BandChoice scene={scene} roles={roles} />}
          </Handle>{" "}
          of {scene.title}
          {nSites !== null && `, from ${plural(nSites, "site")}`}
          {stateWords(training?.live, isPlaceholderData || isFetching)}
          <LevelChoice index={index} show={show} />
        </>
      )}
    </>
  );
}

/** Whether the map follows the sites; of a slow method, since when it is what it shows. */
function stateWords(live: Training["live"] | undefined, waiting: boolean): string {
  if (live?.pending) {
    const since = live.trained_at && formatTime(live.trained_at);
    return since ? ` · as trained at ${since}, being trained anew` : " · being trained";
  }
  return waiting ? " · being updated" : " · up to date";
}
