import { chakra, NativeSelect, Text } from "@chakra-ui/react";

import type { Classifier } from "../../api/types";
import { BandChoice } from "../../shared/BandChoice";
import { plural } from "../../shared/format";
import { Handle } from "../../shared/Handle";
import { Part } from "../../shared/Part";
import { SchemaForm, type Values } from "../../forms/SchemaForm";
import { useCurrentScene } from "../../shared/useCurrent";
import { useView } from "../../shared/viewStore";

interface Props {
  readonly classifiers: Classifier[];
  readonly method: Classifier;
  readonly settings: Values;
  readonly onMethod: (id: string) => void;
  readonly onSettings: (settings: Values) => void;
}

const Details = chakra("details", { base: { mt: "1.5" } });
const Summary = chakra("summary", { base: { cursor: "pointer", color: "cool", fontWeight: 600 } });

export function MethodForm({ classifiers, method, settings, onMethod, onSettings }: Props) {
  const scene = useCurrentScene();
  const { roles } = useView();
  return (
    <Part title="Method">
      <NativeSelect.Root size="sm" bg="card">
        <NativeSelect.Field
          aria-label="Method"
          value={method.id}
          onChange={(event) => onMethod(event.currentTarget.value)}
        >
          {classifiers.map((c) => (
            <option key={c.id} value={c.id}>
              {c.title}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <Text color="quiet" mt="1">
        {method.good_for}
      </Text>
      <Text mt="1.5">
        From <b>{scene.title}</b> go in{" "}
        <Handle text={plural(roles.length, "band")} label="Change the bands that go in">
          {() => <BandChoice scene={scene} roles={roles} />}
        </Handle>
        .
      </Text>
      <Details>
        <Summary>Settings</Summary>
        <SchemaForm schema={method.settings_schema} values={settings} onChange={onSettings} />
        <Text color="quiet" mt="2">
          Source: {method.source}
        </Text>
      </Details>
    </Part>
  );
}
