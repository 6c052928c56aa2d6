import { chakra, Flex, Text } from "@chakra-ui/react";

import { useClasses } from "../../api/queries/training";
import { toneOf } from "../../shared/apart";
import { OnDemandPopover } from "../../shared/OnDemandPopover";
import { Part } from "../../shared/Part";
import { Quiet } from "../../shared/Quiet";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";
import { useTour } from "../../shared/useTour";
import { BandAdvice } from "./BandAdvice";
import { Rung } from "./Rung";

const SHOWN = 4;

/** The ladder of pairs from the worst up; the mark stands at 1.9. */
export function HardPairs() {
  const { data: classes = [] } = useClasses(useStudyId());
  const { data: training } = useCurrentTraining();
  const tour = useTour();
  const pairs = training?.pairs.slice(0, SHOWN) ?? [];
  const withheld = training?.withheld ?? [];
  if (pairs.length + withheld.length === 0) return null;
  const name = (code: number) => classes.find((c) => c.code === code)?.name ?? "";
  return (
    <Part title="Hardest to tell apart" aside="Jeffries-Matusita, 0 to 2">
      {pairs.map(({ code: a, other_code: b, jeffries_matusita: value, few }) => (
        <Flex key={`${a}-${b}`} align="center" gap="2" py="0.5">
          <Text flex="1" truncate>
            {name(a)} – {name(b)}
            {few && (
              <chakra.span color="quiet" title="Fewer than ten pixels per band">
                {" "}
                · few pixels
              </chakra.span>
            )}
          </Text>
          <Rung value={value} />
          <Text width="2.6rem" textAlign="end" fontWeight="650" color={toneOf(value)}>
            {value.toFixed(2)}
          </Text>
        </Flex>
      ))}
      {withheld.length > 0 && (
        <Text color="quiet" mt="1">
          Not told for {withheld.map(name).join(", ")}: fewer pixels than bands and two say nothing.
        </Text>
      )}
      <Flex mt="1" gap="4">
        <OnDemandPopover
          button={<Quiet type="button">Which bands are enough?</Quiet>}
          placement="top-end"
          width="27rem"
        >
          {(close) => <BandAdvice onDone={close} />}
        </OnDemandPopover>
        <Quiet
          type="button"
          title="Where another site would teach most (M)"
          onClick={() => tour.go()}
        >
          Where next?
        </Quiet>
      </Flex>
    </Part>
  );
}
