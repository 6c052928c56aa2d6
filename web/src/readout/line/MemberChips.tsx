import { Flex, Text } from "@chakra-ui/react";

import { lineColour } from "../../shared/pins";
import { Quiet } from "../../shared/Quiet";
import { Select } from "../../shared/Select";
import { LineSign } from "../LineSign";
import { type ChosenMembers, MOST_MEMBERS } from "./useChosenMembers";

/** The layers whose values are drawn along the line. */
export function MemberChips({ chosen }: { readonly chosen: ChosenMembers }) {
  return (
    <>
      {chosen.members.map((member, i) => (
        <Flex key={member.key} gap="1.5" align="center">
          <LineSign curve={{ colour: lineColour(i) }} />
          <Text flex="1" truncate title={chosen.nameOf(member)}>
            {chosen.nameOf(member)}
          </Text>
          <Quiet
            type="button"
            minW="24px"
            minH="24px"
            aria-label={`Leave out ${chosen.nameOf(member)}`}
            onClick={() => chosen.drop(member.key)}
          >
            ×
          </Quiet>
        </Flex>
      ))}
      {chosen.members.length < MOST_MEMBERS && (
        <Select
          label="Add a band"
          hideLabel
          value=""
          options={[{ value: "", label: "add a band" }, ...chosen.options]}
          onValue={(key) => key !== "" && chosen.add(key)}
        />
      )}
    </>
  );
}
