import { Flex, Text } from "@chakra-ui/react";
import { useState } from "react";

import { sentenceOf } from "../../api/problem";
import { useFirstCheck, useSetAside, useSiteActs } from "../../api/queries/judging";
import { useClasses, useSites } from "../../api/queries/training";
import { rowsToCsv } from "../../charts";
import type { FirstCheck, LandClass } from "../../api/types";
import { NumberField } from "../../shared/NumberField";
import { plural } from "../../shared/format";
import { Quiet } from "../../shared/Quiet";
import { saveFile } from "../../shared/saveFile";
import { useStudyId } from "../../shared/study";
import { Toggle } from "../../shared/Toggle";
import { useTaught } from "../../shared/useCurrent";
import { useView } from "../../shared/viewStore";
import { CheckCurve } from "./CheckCurve";
import { CheckedClasses } from "./CheckedClasses";
import { ToldMatrix } from "./ToldMatrix";
import { ControlColumn } from "../ControlColumn";

const FIFTH = 0.2;

/** How well the classes are told apart before any map is made: of the sites, never of the ground. */
export function FirstCheckTab() {
  const studyId = useStudyId();
  const [together, setTogether] = useState(0);
  const [withCurve, setWithCurve] = useState(false);
  const { data, error } = useFirstCheck(studyId, useTaught(), together);
  const { data: classes = [] } = useClasses(studyId);
  if (error) {
    return (
      <Text color="quiet" p="4">
        {sentenceOf(error)}
      </Text>
    );
  }
  if (!data) {
    return (
      <Text color="quiet" p="4">
        Checking …
      </Text>
    );
  }
  return (
    <Flex flex="1" minH="0" role="tabpanel" aria-label="First check">
      <ControlColumn>
        <Flex gap="1">
          <Toggle label="Taken for" on={!withCurve} onClick={() => setWithCurve(false)} />
          <Toggle label="More sites?" on={withCurve} onClick={() => setWithCurve(true)} />
        </Flex>
        <Text color="quiet" lineHeight="1.3">
          Sites of a class nearer than this stay in one fold, in metres:
        </Text>
        <NumberField
          label="Sites nearer than this stay together, in metres"
          value={together}
          isGood={(metres) => metres >= 0 && metres <= 1e6}
          onNumber={setTogether}
        />
        <Aside />
        <Quiet
          type="button"
          alignSelf="flex-start"
          onClick={() => saveFile("first-check.csv", toCsv(data, classes))}
        >
          CSV
        </Quiet>
      </ControlColumn>
      <Flex flex="1" minW="0" gap="4" pe="3" overflow="auto">
        <CheckedClasses data={data} classes={classes} />
        {withCurve ? <CheckCurve data={data} /> : <ToldMatrix data={data} classes={classes} />}
      </Flex>
    </Flex>
  );
}

/** Sites that never train, so that they can be tested on. */
function Aside() {
  const studyId = useStudyId();
  const view = useView("sceneId", "roles");
  const { data: sites = [] } = useSites(studyId, view.sceneId);
  const setAside = useSetAside(studyId);
  const acts = useSiteActs(studyId, view);
  const aside = sites.filter((site) => site.set_aside);
  if (aside.length === 0) {
    return (
      <Quiet
        type="button"
        textAlign="start"
        disabled={setAside.isPending}
        title="They never train, and are told apart here"
        onClick={() => setAside.mutate(FIFTH)}
      >
        Set a fifth of the sites aside
      </Quiet>
    );
  }
  return (
    <Text lineHeight="1.3">
      {plural(aside.length, "site is", "sites are")} set aside.{" "}
      <Quiet
        type="button"
        disabled={acts.isPending}
        onClick={() => acts.mutate({ act: "train", siteIds: aside.map(({ id }) => id) })}
      >
        Train on all
      </Quiet>
    </Text>
  );
}

function toCsv({ classes: checked, codes, by_folds }: FirstCheck, classes: LandClass[]): string {
  const name = (code: number) => classes.find((row) => row.code === code)?.name ?? String(code);
  const head = ["class", "told back right", "right by folds", "from", "to"];
  return rowsToCsv([
    [...head, ...codes.map((code) => `taken for ${name(code)}`), "unclassified"],
    ...checked.map(({ code, back, folds }, i) => [
      name(code),
      back ?? "",
      folds.mean ?? "",
      folds.low ?? "",
      folds.high ?? "",
      ...(by_folds.counts[i] ?? []),
    ]),
  ]);
}
