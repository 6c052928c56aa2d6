import { Text } from "@chakra-ui/react";

import { Part } from "../../shared/Part";
import { DerivedEntry } from "./DerivedEntry";
import { useDeriveScene } from "./useDeriveScene";

/** The derived layers of the study, the newest first. */
export function DerivedList() {
  const { scenes } = useDeriveScene();
  const derived = scenes.filter(({ origin }) => origin === "derived").sort((a, b) => b.id - a.id);
  return (
    <Part title="Derived layers" aside={derived.length}>
      {derived.length === 0 && (
        <Text color="quiet">
          None yet. A layer is ready at once, and a file only when you keep it.
        </Text>
      )}
      {derived.map((scene) => (
        <DerivedEntry key={scene.id} scene={scene} />
      ))}
    </Part>
  );
}
