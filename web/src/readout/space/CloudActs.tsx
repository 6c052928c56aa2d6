import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useCorrectLayers } from "../../api/queries/corrections";
import { useCloudSites } from "../../api/queries/look";
import { useClasses } from "../../api/queries/training";
import type { CloudOrder } from "../../api/types";
import { sceneOfCloud } from "../../shared/cloud";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { useStudyId } from "../../shared/study";
import { useActiveClass } from "../../shared/usePick";
import { showScene } from "../../shared/view";
import { useSetPane } from "../../shared/viewStore";
import type { Cloud } from "../../shared/workStore";

interface MaskProps {
  readonly cloud: Cloud;
  readonly corners: string;
}

/** A cloud becomes a mask of its scene; nothing where its bands are of two scenes. */
export function MaskActs({ cloud, corners }: MaskProps) {
  const mask = useCorrectLayers(useStudyId());
  const setPane = useSetPane();
  const scene = sceneOfCloud(cloud);
  if (!scene) return null;
  const maskOut = (side: "inside" | "outside") => {
    const { id, across, up } = scene;
    const settings = { cloud: { across, up, corners }, mask: side };
    mask.mutate(
      { layer_ids: [id], steps: [{ operation: "mask-cloud", settings }] },
      { onSuccess: ({ made: [first] }) => first && setPane(1, showScene(first)) },
    );
  };
  const [made] = mask.data?.made ?? [];
  return (
    <>
      <Flex mt="1" columnGap="2" wrap="wrap" role="group" aria-label="Make a mask of the cloud">
        <Quiet type="button" disabled={mask.isPending} onClick={() => maskOut("inside")}>
          Mask these pixels
        </Quiet>
        <Quiet type="button" disabled={mask.isPending} onClick={() => maskOut("outside")}>
          Keep only these
        </Quiet>
      </Flex>
      <Outcome error={mask.error} words={made && `Made ${made.title}.`} />
    </>
  );
}

interface SiteProps {
  readonly order: CloudOrder;
  /** Of which class the cloud mostly is. */
  readonly likely: number | undefined;
}

/** The compact patches of a cloud become training sites. */
export function SiteActs({ order, likely }: SiteProps) {
  const studyId = useStudyId();
  const sites = useCloudSites(studyId);
  const { data: classes = [] } = useClasses(studyId);
  const inHand = useActiveClass();
  const [picked, setPicked] = useState<number | null>(null);
  const usual = classes.find(({ code }) => code === likely) ?? inHand;
  const classId = picked ?? usual?.id;
  if (classId === undefined) return null;
  return (
    <>
      <Flex mt="1.5" gap="2" align="center">
        <Quiet
          type="button"
          flex="none"
          disabled={sites.isPending}
          onClick={() => sites.mutate({ ...order, class_id: classId })}
        >
          Make sites of
        </Quiet>
        <Select
          label="Class of the sites"
          hideLabel
          value={String(classId)}
          options={classes.map(({ id, name }) => ({ value: String(id), label: name }))}
          onValue={(value) => setPicked(Number(value))}
        />
      </Flex>
      <Outcome
        error={sites.error}
        words={sites.data === undefined ? undefined : `Made ${plural(sites.data, "site")}.`}
      />
    </>
  );
}

interface OutcomeProps {
  readonly error: Error | null;
  readonly words: string | undefined;
}

function Outcome({ error, words }: OutcomeProps) {
  return (
    <Text color={error ? "warmText" : "quiet"} role={error ? "alert" : "status"}>
      {error ? sentenceOf(error) : words}
    </Text>
  );
}
