import { Flex, Text } from "@chakra-ui/react";
import { useEffect, useEffectEvent } from "react";

import { sentenceOf } from "../../api/problem";
import { useClasses } from "../../api/queries/training";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { useTour } from "../../shared/useTour";
import { useWork } from "../../shared/workStore";

/** Step through the places at which another site would teach most, and draw there. */
export function NextPlaces() {
  const tour = useTour();
  const { data: classes = [] } = useClasses(useStudyId());
  const set = useWork((store) => store.set);
  const { at, place, n, error, isPending } = tour;
  // They may come after they were asked for.
  const showFirst = useEffectEvent(() => at !== null && tour.show(at));
  const isThere = place !== null;
  useEffect(() => {
    if (isThere) showFirst();
  }, [isThere]);
  if (at === null) return null;
  if (error) return <Remark tone="caution">{sentenceOf(error)}</Remark>;
  if (!place) {
    return (
      <Remark tone="calm">
        {isPending ? "Looking for places …" : "There is no place that would teach much more."}
      </Remark>
    );
  }
  const draw = (code: number) => {
    const row = classes.find((one) => one.code === code);
    if (row) set({ classId: row.id, tool: "outline", siteKey: null });
  };
  return (
    <Remark tone="calm">
      <Text>{place.reason}</Text>
      <Flex mt="1" columnGap="3" wrap="wrap">
        {place.codes.map((code) => (
          <Quiet key={code} type="button" onClick={() => draw(code)}>
            Draw {classes.find((one) => one.code === code)?.name.toLowerCase()}
          </Quiet>
        ))}
        <Quiet type="button" onClick={tour.stop}>
          Stop
        </Quiet>
        <Quiet
          type="button"
          ms="auto"
          title="The next place (M)"
          aria-label={`${at + 1} / ${n} ›, the next place`}
          onClick={() => tour.go()}
        >
          {at + 1} / {n} ›
        </Quiet>
      </Flex>
    </Remark>
  );
}
