import { Flex, Text } from "@chakra-ui/react";

import type { LandClass } from "../../api/types";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { Toggle } from "../../shared/Toggle";
import { RegionSelect } from "../RegionSelect";
import type { useRegion } from "../useRegion";
import { ringOf } from "./ellipse";
import type { Axes } from "./useAxes";
import type { useSpace } from "./useSpace";

interface Props {
  readonly axes: Axes;
  readonly region: ReturnType<typeof useRegion>;
  readonly space: ReturnType<typeof useSpace>;
  readonly circling: boolean;
  readonly onCircling: (on: boolean) => void;
  readonly withClasses: boolean;
  readonly onWithClasses: (on: boolean) => void;
  readonly classes: readonly LandClass[];
  readonly onCloud: (corners: [number, number][]) => void;
  readonly onCount: () => void;
}

/** Which bands, which pixels, what over them. */
export function SpaceControls(props: Props) {
  const { axes, region, space, circling, onCircling, classes, onCloud, onCount } = props;
  const ellipses = space.plane?.ellipses ?? [];
  return (
    <>
      <AxisSelect name="across" value={axes.x.key} options={axes.options} onValue={axes.setX} />
      <AxisSelect name="up" value={axes.y.key} options={axes.options} onValue={axes.setY} />
      <RegionSelect region={region} />
      <Toggle
        label={circling ? "Circle it on the plot" : "Circle a cloud"}
        on={circling}
        onClick={() => onCircling(!circling)}
      />
      {ellipses.length > 0 && (
        <Select
          label="Light the pixels in a class’s ellipse"
          hideLabel
          value=""
          options={[
            { value: "", label: "light a class’s ellipse" },
            ...ellipses.map(({ code }) => ({
              value: String(code),
              label: classes.find((c) => c.code === code)?.name ?? String(code),
            })),
          ]}
          onValue={(code) => {
            const ellipse = ellipses.find((one) => String(one.code) === code);
            if (ellipse) onCloud(ringOf(ellipse));
          }}
        />
      )}
      <Flex gap="1.5" wrap="wrap">
        <Toggle
          label="Classes"
          on={props.withClasses}
          onClick={() => props.onWithClasses(!props.withClasses)}
        />
        {space.canSoil && (
          <Toggle
            label="Soil line"
            on={space.withSoil}
            onClick={() => space.setWithSoil(!space.withSoil)}
          />
        )}
      </Flex>
      {space.plane?.exact === false && region.kind === "scene" && (
        <Quiet type="button" alignSelf="flex-start" onClick={onCount}>
          Count every pixel
        </Quiet>
      )}
    </>
  );
}

interface AxisProps {
  readonly name: string;
  readonly value: string;
  readonly options: Props["axes"]["options"];
  readonly onValue: (key: string) => void;
}

function AxisSelect({ name, value, options, onValue }: AxisProps) {
  return (
    <Flex align="center" gap="1.5">
      <Text width="3.2rem" flex="none" color="quiet">
        {name}
      </Text>
      <Select
        label={`Band ${name}`}
        hideLabel
        width="100%"
        value={value}
        options={options}
        onValue={onValue}
      />
    </Flex>
  );
}
