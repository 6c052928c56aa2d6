import { Flex, Text } from "@chakra-ui/react";

import { useNearRole } from "../../../api/queries/vocabulary";
import { Quiet } from "../../../shared/Quiet";
import { Remark } from "../../../shared/Remark";
import { roleWords, type Vocabulary } from "./roles";

interface Props {
  readonly role: string;
  readonly known: Vocabulary;
  readonly onMeant: (role: string) => void;
  readonly onOwn: () => void;
}

/** A role that no index and no composite knows: is another one meant? */
export function StrangeRole({ role, known, onMeant, onOwn }: Props) {
  const { data } = useNearRole(role, true);
  const near = data?.role ?? null;
  return (
    <Remark tone="caution">
      <Text>
        No index knows the role “{role}”.
        {near !== null && ` Is ${near} meant (${roleWords(known.get(near))})?`}
      </Text>
      <Flex gap="3" mt="0.5">
        {near !== null && (
          <Quiet type="button" onClick={() => onMeant(near)}>
            Yes, {near}
          </Quiet>
        )}
        <Quiet type="button" onClick={onOwn}>
          “{role}” is a role of my own
        </Quiet>
      </Flex>
    </Remark>
  );
}
