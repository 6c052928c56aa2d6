import { CheckList } from "../../shared/CheckList";
import { useDeriveStore } from "./deriveStore";
import { useDeriveScene } from "./useDeriveScene";
import { Folded } from "../../shared/Folded";

const ONE_ONLY = new Set(["stack", "composite", "breaks"]);

/** The same for other dates, in one act. */
export function AlsoFor() {
  const { scene, scenes } = useDeriveScene();
  const { kind, also, setAlso } = useDeriveStore();
  const others = scenes.filter(
    ({ id, series, origin }) => id !== scene.id && series === null && origin !== "derived",
  );
  if (ONE_ONLY.has(kind) || others.length === 0 || scene.origin === "derived") return null;
  const titleOf = (id: number) => others.find((one) => one.id === id)?.title ?? "";
  return (
    <Folded title={<>The same for other scenes{also.length > 0 && `, ${also.length}`}</>} mt="2.5">
      <CheckList
        title="Other scenes"
        options={others.map(({ title }) => title)}
        chosen={also.map(titleOf)}
        onChosen={(titles) =>
          setAlso(others.filter(({ title }) => titles.includes(title)).map(({ id }) => id))
        }
      />
    </Folded>
  );
}
