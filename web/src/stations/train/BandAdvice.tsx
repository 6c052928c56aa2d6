import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useBandAdvice, useClasses } from "../../api/queries/training";
import type { BandAdvice as Advice } from "../../api/types";
import { GOOD, toneOf } from "../../shared/apart";
import { plural } from "../../shared/format";
import { tellChange } from "../../shared/notices";
import { NumberField } from "../../shared/NumberField";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { useCurrentScene, useCurrentTraining } from "../../shared/useCurrent";
import { useView, useViewStore } from "../../shared/viewStore";
import { Rung } from "./Rung";

/** Jeffries-Matusita distances stay below. */
const MOST = 2;

/** For each number of bands the best ones, and the fewest that tell every pair of classes apart. */
export function BandAdvice({ onDone }: { readonly onDone: () => void }) {
  const studyId = useStudyId();
  const scene = useCurrentScene();
  const { roles: now } = useView("roles");
  const change = useViewStore((store) => store.change);
  const [limit, setLimit] = useState(GOOD);
  const { data: training } = useCurrentTraining();
  const { data: classes = [] } = useClasses(studyId);
  const { data, error } = useBandAdvice(studyId, scene.id, {
    version: training?.version ?? "",
    roles: scene.default_roles,
    limit,
  });
  const use = (roles: readonly string[]) => {
    change({ roles: scene.bands.map(({ role }) => role).filter((role) => roles.includes(role)) });
    tellChange(`${plural(roles.length, "band")} go in now.`, () => change({ roles: now }));
    onDone();
  };
  if (error) return <Text>{sentenceOf(error)}</Text>;
  // As high as what comes, so that the popover stands where there is room for it.
  if (!data) {
    return (
      <Text color="quiet" minH={`${6 + 2.2 * scene.default_roles.length}rem`}>
        Comparing …
      </Text>
    );
  }
  const untold = classes.filter(({ code }) => data.untold.includes(code));
  return (
    <>
      <Text mb="1.5">{sentence(data, limit)}</Text>
      <Flex mb="1.5" gap="2" align="center" color="quiet">
        Every pair shall reach
        <NumberField
          label="Distance that every pair shall reach"
          value={limit}
          step={0.05}
          width="4.5rem"
          isGood={(value) => value > 0 && value < MOST}
          onNumber={setLimit}
        />
      </Flex>
      {data.subsets.map(({ roles, worst }) => (
        <Flex
          key={roles.length}
          gap="2"
          align="center"
          py="1"
          borderTopWidth="1px"
          borderColor="line"
        >
          <Text width="1.4rem" textAlign="end" fontWeight="650">
            {roles.length}
          </Text>
          <Text flex="1" minW="0" lineHeight="1.25">
            {roles.join(", ")}
          </Text>
          <Rung value={worst} />
          <Text width="2.4rem" textAlign="end" fontWeight="650" color={toneOf(worst)}>
            {worst.toFixed(2)}
          </Text>
          <Box width="3.2rem" textAlign="end">
            {isSame(roles, now) ? (
              <Text color="quiet">in use</Text>
            ) : (
              <Quiet
                type="button"
                aria-label={`Use the best ${plural(roles.length, "band")}`}
                onClick={() => use(roles)}
              >
                Use
              </Quiet>
            )}
          </Box>
        </Flex>
      ))}
      <Text color="quiet" mt="1.5" fontSize="0.92rem">
        The value is that of the pair that is hardest to tell apart (Jeffries-Matusita, corrected
        for chance).{" "}
        {data.all_tried ? "Every subset was tried." : "Not every subset was tried: too many bands."}
        {untold.length > 0 &&
          ` Without ${untold.map(({ name }) => name).join(", ")}: too few pixels.`}
      </Text>
    </>
  );
}

function sentence({ subsets, enough }: Advice, limit: number): string {
  const best = Math.max(0, ...subsets.map(({ worst }) => worst));
  return enough === null
    ? `No choice of bands tells every pair apart: the best reaches ${best.toFixed(2)}, ${limit} is wanted. Other bands, indices or dates may, or better sites.`
    : `${plural(enough, "band")} ${enough === 1 ? "is" : "are"} enough to tell every pair apart (${limit} or more).`;
}

function isSame(roles: readonly string[], now: readonly string[]): boolean {
  return roles.length === now.length && roles.every((role) => now.includes(role));
}
