import { useClassifiers } from "../api/queries/runs";
import { BandChoice } from "../shared/BandChoice";
import { plural } from "../shared/format";
import { Handle } from "../shared/Handle";
import { useCurrentScene, useCurrentTraining } from "../shared/useCurrent";
import { useView } from "../shared/viewStore";
import type { PaneIndex } from "../shared/view";
import { ShowChoice } from "./ShowChoice";

const LIVE_METHOD = "maximum-likelihood";

export function LiveCaption({ index }: { readonly index: PaneIndex }) {
  const scene = useCurrentScene();
  const { roles } = useView();
  const { data: classifiers } = useClassifiers();
  const { data: training, isPlaceholderData, isFetching } = useCurrentTraining();
  const method = classifiers?.find((c) => c.id === LIVE_METHOD)?.title.toLowerCase() ?? "";
  const nSites = training?.classes.reduce((n, c) => n + c.n_sites, 0);
  return (
    <>
      <ShowChoice index={index} show={{ kind: "live" }} />
      {training?.problem ? (
        <>: {training.problem}</>
      ) : (
        <>
          , {method} on{" "}
          <Handle text={plural(roles.length, "band")} label="Change the bands that go in">
            {() => <BandChoice scene={scene} roles={roles} />}
          </Handle>{" "}
          of {scene.title}
          {nSites !== undefined && `, from ${plural(nSites, "site")}`}
          {isPlaceholderData || isFetching ? " · being updated" : " · up to date"}
        </>
      )}
    </>
  );
}
