import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";

import { Quiet } from "../../shared/Quiet";
import type { WidgetProps } from "../SchemaForm";
import { Select } from "../../shared/Select";
import { inOrder } from "../../shared/sceneOrder";
import { useFormScene, useFormSubject } from "../subject";
import { itemActs } from "./items";

interface Member {
  scene_id: number;
  role: string;
  name?: string;
}

/** Layers of a stack in order, each under a name of its own. */
export function MembersWidget({ field, value, onChange }: WidgetProps) {
  const members = Array.isArray(value) ? (value as Member[]) : [];
  const { scenes } = useFormSubject();
  const titles = new Map(scenes.map(({ id, title }) => [id, title]));
  const { put, drop } = itemActs(members, onChange);
  return (
    <>
      <Text fontWeight="500">{field.title}</Text>
      {members.length === 0 && <Text color="quiet">None yet. {field.description}</Text>}
      {members.map((member, i) => (
        <Flex key={`${member.scene_id}:${member.role}`} gap="2" align="center" mt="1">
          <Input
            size="xs"
            width="7rem"
            bg="card"
            aria-label={`Name of ${member.role} of ${titles.get(member.scene_id) ?? ""}`}
            placeholder={member.role}
            value={member.name ?? ""}
            maxLength={32}
            onChange={({ currentTarget }) => {
              const name = currentTarget.value.toLowerCase().replace(/[^a-z0-9_]/g, "_");
              put(i, { ...member, name });
            }}
          />
          <Text flex="1" truncate color="quiet">
            {member.role}, {titles.get(member.scene_id)}
          </Text>
          <Quiet
            type="button"
            aria-label={`Move ${member.role} up`}
            disabled={i === 0}
            onClick={() => onChange(moved(members, i))}
          >
            Up
          </Quiet>
          <Quiet type="button" aria-label={`Take ${member.role} out`} onClick={() => drop(i)}>
            Out
          </Quiet>
        </Flex>
      ))}
      <AddMembers members={members} onMembers={onChange} />
    </>
  );
}

function moved(members: readonly Member[], i: number): Member[] {
  const next = [...members];
  next.splice(i - 1, 0, ...next.splice(i, 1));
  return next;
}

interface AddProps {
  readonly members: readonly Member[];
  readonly onMembers: (members: Member[]) => void;
}

/** Bands of any scene, one by one or all at once. */
function AddMembers({ members, onMembers }: AddProps) {
  const scene = useFormScene();
  const { scenes } = useFormSubject();
  const [picked, setPicked] = useState<number | null>(null);
  const from = scenes.find((one) => one.id === picked) ?? scene;
  const has = (role: string) =>
    members.some((one) => one.scene_id === from.id && one.role === role);
  const free = from.bands.filter(({ role }) => !has(role));
  const add = (roles: string[]) =>
    onMembers([...members, ...roles.map((role) => ({ scene_id: from.id, role }))]);
  return (
    <>
      <Box mt="2" />
      <Select
        label="Add from"
        value={String(from.id)}
        options={inOrder(scenes).map(({ id, title }) => ({ value: String(id), label: title }))}
        onValue={(id) => setPicked(Number(id))}
      />
      <Flex wrap="wrap" columnGap="2.5" mt="1" role="group" aria-label={`Add from ${from.title}`}>
        {free.map(({ role }) => (
          <Quiet key={role} type="button" title={`Add ${role}`} onClick={() => add([role])}>
            {role}
          </Quiet>
        ))}
        {free.length > 1 && (
          <Quiet type="button" onClick={() => add(free.map(({ role }) => role))}>
            all {free.length}
          </Quiet>
        )}
        {free.length === 0 && <Text color="quiet">All of it is in.</Text>}
      </Flex>
    </>
  );
}
