import { useClusterings } from "../api/queries/clusters";
import { BandChoice } from "../shared/BandChoice";
import { formatCount, plural } from "../shared/format";
import { Handle } from "../shared/Handle";
import { useLiveClusters } from "../shared/useClusters";
import { useCurrentScene } from "../shared/useCurrent";
import type { PaneIndex } from "../shared/view";
import { useView } from "../shared/viewStore";
import { ShowChoice } from "./ShowChoice";

/** Clusters as they stand, on a sample. */
export function ClustersCaption({ index }: { readonly index: PaneIndex }) {
  const scene = useCurrentScene();
  const { roles, clustering } = useView("roles", "clustering");
  const { data: methods } = useClusterings();
  const { data, isPlaceholderData, isFetching } = useLiveClusters(true);
  const method = methods?.find(({ id }) => id === clustering.id)?.title ?? "";
  const say = data?.problem ?? null;
  return (
    <>
      <ShowChoice index={index} show={{ kind: "clusters" }} />
      {say !== null ? (
        <>: {say}</>
      ) : (
        <>
          , {method} in {data ? plural(data.clusters.length, "cluster") : "…"} on{" "}
          <Handle text={plural(roles.length, "band")} label="Change the bands that go in">
            {() => <BandChoice scene={scene} roles={roles} />}
          </Handle>{" "}
          of {scene.title}
          {data && `, found on ${formatCount(data.n_sampled)} pixels`}
          {isPlaceholderData || isFetching ? " · being updated" : ""}
        </>
      )}
    </>
  );
}
