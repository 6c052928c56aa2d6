import { Flex } from "@chakra-ui/react";

import { useSchemeFile, useSchemeOf } from "../../../api/queries/scheme";
import { useStudies } from "../../../api/queries/studies";
import type { LandClass } from "../../../api/types";
import { Download } from "../../../shared/Download";
import { FileButton } from "../../../shared/FileButton";
import { plural } from "../../../shared/format";
import { tellNews } from "../../../shared/notices";
import { Select } from "../../../shared/Select";
import { useStudyId } from "../../../shared/study";

/** Take over a scheme from a file or another study; take this one away. */
export function SchemeSources({ classes }: { readonly classes: readonly LandClass[] }) {
  const studyId = useStudyId();
  const { data: studies = [] } = useStudies();
  const fromFile = useSchemeFile(studyId);
  const fromStudy = useSchemeOf(studyId);
  const others = studies.filter(({ id }) => id !== studyId);
  const tell = {
    onSuccess: ({ added, known }: { added: number; known: number }) =>
      tellNews(`${plural(added, "class", "classes")} added, ${known} were there already.`),
  };
  const base = `/api/studies/${studyId}`;
  return (
    <Flex gap="4" align="center" wrap="wrap">
      <FileButton
        label="Take over a file"
        accept=".json,.csv,.txt"
        busy={fromFile.isPending}
        onFile={(file) => fromFile.mutate(file, tell)}
      />
      {others.length > 0 && (
        <Select
          label="Take over the classes of another study"
          hideLabel
          value=""
          options={[
            { value: "", label: "Take over from a study …" },
            ...others.map(({ id, name }) => ({ value: String(id), label: name })),
          ]}
          onValue={(value) => {
            if (value !== "") fromStudy.mutate(Number(value), tell);
          }}
        />
      )}
      {classes.length > 0 && (
        <>
          <Download href={`${base}/classes.json`}>Classes as JSON</Download>
          <Download href={`${base}/classes.csv`}>Classes as CSV</Download>
        </>
      )}
    </Flex>
  );
}
