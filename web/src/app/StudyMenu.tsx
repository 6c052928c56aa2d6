import { chakra, Text } from "@chakra-ui/react";
import { ChevronDown } from "lucide-react";
import { useNavigate } from "react-router";

import { useStudies } from "../api/queries/studies";
import type { Study } from "../api/types";
import { Choice } from "../shared/Choice";
import { OnDemandPopover } from "../shared/OnDemandPopover";
import { NewStudy } from "./NewStudy";

const Name = chakra("button", {
  base: {
    display: "flex",
    alignItems: "center",
    gap: "1",
    color: "quiet",
    fontSize: "1.05rem",
    cursor: "pointer",
    whiteSpace: "nowrap",
    _hover: { color: "ink" },
  },
});

/** The study's name; behind it the other studies, and a new one. */
export function StudyMenu({ study }: { readonly study: Study }) {
  const button = (
    <Name type="button" title="Other studies, or a new one">
      {study.name} <ChevronDown size={14} aria-hidden />
    </Name>
  );
  return (
    <OnDemandPopover button={button} placement="bottom-start" width="20rem">
      {(close) => <Studies study={study} close={close} />}
    </OnDemandPopover>
  );
}

interface StudiesProps {
  readonly study: Study;
  readonly close: () => void;
}

function Studies({ study, close }: StudiesProps) {
  const { data: studies = [] } = useStudies();
  const navigate = useNavigate();
  return (
    <>
      {studies.map(({ id, name }) => (
        <Choice
          key={id}
          title={name}
          chosen={id === study.id}
          onChoose={() => {
            close();
            void navigate(`/studies/${id}/scenes`);
          }}
        />
      ))}
      <Text color="quiet" px="2" pt="2">
        A new study
      </Text>
      <NewStudy />
    </>
  );
}
