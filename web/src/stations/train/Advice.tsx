import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { useJudgement, useSiteActs } from "../../api/queries/judging";
import { useClasses, useSites } from "../../api/queries/training";
import type { SiteAct, SiteAdvice } from "../../api/types";
import { formatCount } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { Remark } from "../../shared/Remark";
import { useStudyId } from "../../shared/study";
import { useCurrentTraining } from "../../shared/useCurrent";
import { useGoToSite } from "../../shared/useGoToSite";
import { useView } from "../../shared/viewStore";
import { useWork } from "../../shared/workStore";

/** What would help most just now, with the acts that answer it; one after the other. */
export function Advice() {
  const studyId = useStudyId();
  const { data: training, error } = useCurrentTraining();
  const { data: judgement } = useJudgement(studyId, useView("sceneId", "roles"));
  const [place, setPlace] = useState(0);
  if (error) return <Remark tone="problem">{error.message}</Remark>;
  const problem = training?.problem ?? null;
  const all = judgement?.advice ?? [];
  const at = Math.min(place, Math.max(0, all.length - 1));
  const advice = all[at];
  return (
    <>
      {problem !== null && <Remark tone="caution">{problem}</Remark>}
      {advice && (
        <Remark tone="caution">
          {all.length > 1 && (
            <Quiet
              type="button"
              float="right"
              whiteSpace="nowrap"
              ms="2"
              onClick={() => setPlace((at + 1) % all.length)}
              title="The next advice"
              aria-label={`${at + 1} / ${all.length} ›, the next advice`}
            >
              {formatCount(at + 1)} / {formatCount(all.length)} ›
            </Quiet>
          )}
          <Text>{advice.sentence}</Text>
          <Flex mt="1" columnGap="3" wrap="wrap">
            <Acts advice={advice} />
          </Flex>
        </Remark>
      )}
    </>
  );
}

function Acts({ advice }: { readonly advice: SiteAdvice }) {
  const studyId = useStudyId();
  const view = useView("sceneId", "roles");
  const { data: sites = [] } = useSites(studyId, view.sceneId);
  const { data: classes = [] } = useClasses(studyId);
  const { mutate, isPending } = useSiteActs(studyId, view);
  const set = useWork((store) => store.set);
  const goTo = useGoToSite();
  const first = sites.find(({ id }) => id === advice.site_ids[0]);
  const many = advice.site_ids.length > 1;
  const other = classes.find(({ code }) => code === advice.other_code);
  const own = classes.find(({ code }) => code === advice.code);
  const onSite = (act: SiteAct, label: string) => (
    <Quiet
      key={act}
      type="button"
      disabled={isPending || !first}
      onClick={() =>
        mutate({
          act,
          siteIds: advice.site_ids,
          ...(act === "move" && other && { classId: other.id }),
        })
      }
    >
      {label}
    </Quiet>
  );
  const labels = {
    move: other ? `Move to ${other.name}` : null,
    split: "Split",
    shrink: "Shrink",
    delete: "Delete",
    trust: many ? "They are right" : "It is right",
  };
  return (
    <>
      {first && (
        <Quiet type="button" onClick={() => goTo(first)}>
          {many ? "Show the first" : "Show"}
        </Quiet>
      )}
      {advice.acts.map((act) => {
        if (act === "draw") {
          return (
            <Quiet
              key={act}
              type="button"
              onClick={() => own && set({ classId: own.id, tool: "outline", siteKey: null })}
            >
              Draw it
            </Quiet>
          );
        }
        const label = labels[act];
        return label === null ? null : onSite(act, label);
      })}
    </>
  );
}
