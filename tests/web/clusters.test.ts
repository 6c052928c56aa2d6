import { expect, test } from "vitest";

import {
  jointsIn,
  leavesIn,
  treeOf,
} from "../../web/src/readout/clusters/treeShape";
import { inSizeOrder } from "../../web/src/shared/useClusters";
import {
  dissimilarityWords,
  whatWords,
  worthWords,
} from "../../web/src/stations/classify/trained/trainedWords";
import { openView } from "../../web/src/shared/openView";
import { tabsOf } from "../../web/src/shared/view";
import { sceneWith } from "./scenes";

const JOINTS = [
  { first: 1, second: 3, height: 1 },
  { first: 0, second: 4, height: 2 },
  { first: 2, second: 5, height: 5 },
];

test("the leaves of a tree stand side by side, so that no lines cross", () => {
  const tree = treeOf(4, JOINTS);
  expect(leavesIn(tree).map((leaf) => leaf.leaves[0])).toEqual([2, 0, 1, 3]);
  expect(leavesIn(tree).map((leaf) => leaf.x)).toEqual([0, 1, 2, 3]);
  expect(tree?.height).toBe(5);
});

test("a joint knows all that hangs from it, the highest come first", () => {
  const joints = jointsIn(treeOf(4, JOINTS));
  expect(joints.map((joint) => joint.leaves)).toEqual([
    [2, 0, 1, 3],
    [0, 1, 3],
    [1, 3],
  ]);
  expect(joints[2]?.x).toBe(2.5);
});

test("a single cluster is a tree, none is not", () => {
  expect(treeOf(1, [])?.leaves).toEqual([0]);
  expect(treeOf(0, [])).toBeNull();
  expect(jointsIn(treeOf(1, []))).toEqual([]);
});

test("clusters are stepped through the largest first", () => {
  const clusters = [0.1, 0.6, 0.3].map((share, i) => ({ share, code: i + 1 }));
  const map = { clusters } as unknown as Parameters<typeof inSizeOrder>[0];
  expect(inSizeOrder(map).map(({ code }) => code)).toEqual([2, 3, 1]);
});

test("tabs of clusters are there while clusters are, those of training in Train", () => {
  expect(tabsOf("clusters")).toContain("how-many");
  expect(tabsOf("clusters")).not.toContain("first-check");
  expect(tabsOf("train")).toContain("first-check");
  expect(tabsOf("classify")).not.toContain("tree");
});

test("how it is clustered is found again; nonsense is the usual way", () => {
  const scene = sceneWith(1, ["red", "nir", "green"]);
  const clustering = { id: "isodata", settings: { n_clusters: 5 }, seed: 3 };
  const view = openView({ classifyBy: "clusters", clustering }, [scene], []);
  expect(view?.classifyBy).toBe("clusters");
  expect(view?.clustering).toEqual(clustering);
  const other = openView(
    { classifyBy: "by magic", clustering: 7 },
    [scene],
    [],
  );
  expect(other?.classifyBy).toBe("sites");
  expect(other?.clustering.id).toBe("k-means");
});

test("a clustering says what found it, a classifier what its check was worth", () => {
  const taught = {
    roles: ["red", "nir"],
    quantities: ["reflectance", "reflectance"],
    classes: [{}, {}],
    clusters: null,
    check: null,
    scene: "Summer pass",
    created_at: "2026-11-28T12:00:00Z",
  } as unknown as Parameters<typeof whatWords>[0];
  expect(whatWords(taught, "Naive Bayes")).toContain(
    "Naive Bayes on 2 bands of reflectance (red, nir), 2 classes, trained on Summer pass",
  );
  expect(worthWords(taught)).toContain("no first check");
  const clusters = {
    title: "K-means",
    n_sampled: 900,
    n_usable: 1000,
    rounds: ["3 rounds, at rest"],
  } as NonNullable<typeof taught.clusters>;
  const found = { ...taught, clusters, quantities: ["reflectance", "index"] };
  expect(whatWords(found, "Minimum distance")).toContain(
    "K-means on 2 bands (red, nir), 2 clusters, found on Summer pass",
  );
  expect(worthWords(found)).toMatch(
    /^Found on 900 of 1.000 usable pixels; 3 rounds, at rest\.$/,
  );
});

test("the bound of a dissimilarity index is rounded up, and an exact one says so", () => {
  const words = (n_compared: number, error: number) =>
    dissimilarityWords({
      dissimilarity: { n_compared, error, threshold: 0.117 },
    } as unknown as Parameters<typeof dissimilarityWords>[0]);
  expect(words(2000, 0.0201)).toMatch(
    /from 2.000 training pixels chosen from all, at most 0\.03 too large; threshold 0\.12\.$/,
  );
  expect(words(900, 0)).toContain("from all 900 training pixels, exact;");
});
