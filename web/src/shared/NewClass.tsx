import { Flex, Input } from "@chakra-ui/react";
import { useState } from "react";

import { useCreateClass } from "../api/queries/edits";
import type { LandClass } from "../api/types";
import { Quiet } from "./Quiet";
import { useStudyId } from "./study";

interface Props {
  readonly act: string;
  readonly onMade: (made: LandClass) => void;
}

/** Name a new class; it gets the next code and a free colour. */
export function NewClass({ act, onMade }: Props) {
  const create = useCreateClass(useStudyId(), onMade);
  const [name, setName] = useState("");
  const add = (event: React.SubmitEvent) => {
    event.preventDefault();
    if (name.trim() === "") return;
    setName(""); // the next one may be typed while this one is on its way
    create.mutate(name, {
      onError: () => setName((typed) => (typed === "" ? name : typed)),
    });
  };
  return (
    <form onSubmit={add}>
      <Flex mt="1" gap="2" align="center">
        <Input
          size="xs"
          flex="1"
          bg="card"
          placeholder="Another class"
          aria-label="Name of a new class"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
        />
        <Quiet type="submit" disabled={name.trim() === ""}>
          {act}
        </Quiet>
      </Flex>
    </form>
  );
}
