import { useState } from "react";

import { memberKey } from "../../shared/member";
import { useShownScenes } from "../../shared/viewStore";
import { type Member, useMembers } from "../useMembers";

export const MOST_MEMBERS = 6;

export interface ChosenMembers {
  members: Member[];
  options: { value: string; label: string }[];
  nameOf: (member: Member) => string;
  add: (key: string) => void;
  drop: (key: string) => void;
}

/** The bands that the first pane shows, unless the analyst has said otherwise. */
export function useChosenMembers(): ChosenMembers {
  const { options, find, scenes } = useMembers();
  const [shown] = useShownScenes();
  const [picked, setPicked] = useState<string[] | null>(null);
  const usual = shown
    ? [...new Set(shown.roles)].map((role) => memberKey(shown.sceneId, role))
    : [];
  const keys = (picked ?? usual).filter((key) => find(key));
  return {
    members: keys.flatMap((key) => find(key) ?? []),
    options: options.filter(({ value }) => !keys.includes(value)),
    nameOf: ({ role, scene }) => (scenes.length > 1 ? `${role}, ${scene.title}` : role),
    add: (key) => setPicked([...keys, key].slice(-MOST_MEMBERS)),
    drop: (key) => setPicked(keys.filter((one) => one !== key)),
  };
}
