import { useView } from "../../shared/viewStore";
import { ClusterCard } from "./clusters/ClusterCard";
import { SitesCard } from "./SitesCard";

/** Classes from training sites, or from clusters that are given names. */
export function ClassifyCard() {
  return useView("classifyBy").classifyBy === "clusters" ? <ClusterCard /> : <SitesCard />;
}
