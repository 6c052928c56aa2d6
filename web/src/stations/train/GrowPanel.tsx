import { Flex, Slider, Text } from "@chakra-ui/react";
import { useEffect, useEffectEvent } from "react";

import { sentenceOf } from "../../api/problem";
import type { Outline } from "../../map";
import { plural } from "../../shared/format";
import { isTyping } from "../../shared/isTyping";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { Toggle } from "../../shared/Toggle";
import { useGrowing } from "../../shared/useGrowing";
import { useActiveClass } from "../../shared/usePick";
import { useSaveSite } from "../../shared/useSaveSite";
import { type Seed, useWork } from "../../shared/workStore";

const MEASURES = {
  distance: { most: 2, step: 0.02, usual: 0.3, unit: "s.d.", label: "Distance" },
  angle: { most: 20, step: 0.1, usual: 3, unit: "°", label: "Angle" },
} as const;

/** How far the pixels of a growing site may be from the one that was clicked. */
export function GrowPanel() {
  const tool = useWork((store) => store.tool);
  return tool === "grow" ? <Growing /> : null;
}

function Growing() {
  const seed = useWork((store) => store.seed);
  const set = useWork((store) => store.set);
  const { data, error } = useGrowing();
  const { keep, drop } = useKeeping(data?.geometry as Outline | undefined);
  const { most, step, unit, label } = MEASURES[seed.measure];
  const change = (part: Partial<Seed>) => set({ seed: { ...seed, ...part } });
  return (
    <>
      <Flex mt="2" gap="2" align="center">
        {(["distance", "angle"] as const).map((id) => (
          <Toggle
            key={id}
            label={MEASURES[id].label}
            title={
              id === "distance"
                ? "In standard deviations of the scene, over the bands in use"
                : "Spectral angle in degrees: blind to brightness"
            }
            on={seed.measure === id}
            onClick={() => change({ measure: id, threshold: MEASURES[id].usual })}
          />
        ))}
        <Slider.Root
          flex="1"
          size="sm"
          min={0}
          max={most}
          step={step}
          value={[seed.threshold]}
          aria-label={[`${label}, at most`]}
          onValueChange={({ value: [threshold = 0] }) => change({ threshold })}
        >
          <Slider.Control>
            <Slider.Track bg="line">
              <Slider.Range bg="cool" />
            </Slider.Track>
            <Slider.Thumbs />
          </Slider.Control>
        </Slider.Root>
        <Text width="4.2rem" textAlign="end" whiteSpace="nowrap">
          {seed.threshold.toFixed(unit === "°" ? 1 : 2)} {unit}
        </Text>
      </Flex>
      <Flex mt="1" justify="space-between" gap="2" role="status">
        <Text color={error ? "caution" : "quiet"}>{wordsOf(seed, data, error)}</Text>
        {seed.at && data && !error && (
          <Flex gap="3" flex="none">
            <Quiet type="button" title="Keep it (Enter)" onClick={keep}>
              Keep
            </Quiet>
            <Quiet type="button" title="Drop it (Esc)" onClick={drop}>
              Drop
            </Quiet>
          </Flex>
        )}
      </Flex>
    </>
  );
}

function wordsOf(
  seed: Seed,
  data: ReturnType<typeof useGrowing>["data"],
  error: Error | null,
): string {
  if (seed.at === null) return "Click a pixel to grow from.";
  if (error) return sentenceOf(error);
  if (!data) return "Growing …";
  return data.limited
    ? `Stopped at ${plural(data.n_pixels, "pixel")}`
    : plural(data.n_pixels, "pixel");
}

/** Enter keeps what has grown as a site of the class in hand, Escape drops it. */
function useKeeping(outline: Outline | undefined) {
  const studyId = useStudyId();
  const active = useActiveClass();
  const save = useSaveSite();
  const set = useWork((store) => store.set);
  const seed = useWork((store) => store.seed);
  const drop = () => set({ seed: { ...seed, at: null } });
  const keep = () => {
    if (!outline || !active || seed.at === null) return;
    const key = `unsaved:${Date.now()}:${crypto.randomUUID()}`;
    void save({ key, studyId, classId: active.id, outline, problem: null });
    drop();
  };
  const press = useEffectEvent((event: KeyboardEvent) => {
    if (isTyping(event.target) || seed.at === null) return;
    if (event.key === "Enter") keep();
    else if (event.key === "Escape") drop();
    else return;
    event.preventDefault();
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => press(event);
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, []);
  return { keep, drop };
}
