import { useState } from "react";

import { bandQuantityWords } from "../../shared/quantity";
import type { Option } from "../../shared/Select";
import { type Member, useMembers } from "../useMembers";

interface AxisChoice {
  key: string;
  sceneId: number;
  role: string;
  label: string;
}

export interface Axes {
  x: AxisChoice;
  y: AxisChoice;
  options: Option[];
  setX: (key: string) => void;
  setY: (key: string) => void;
}

/** The bands across and up: red and near infrared of the first pane's scene, to begin with. */
export function useAxes(): Axes | null {
  const { members, options, find, scenes } = useMembers();
  const [picked, setPicked] = useState({ x: "", y: "" });
  const usual = (roles: string[], other: number) =>
    members.find((m) => roles.includes(m.role)) ?? members[other] ?? members[0];
  const x = find(picked.x) ?? usual(["red"], 0);
  const y = find(picked.y) ?? usual(["nir", "nir08"], 1);
  if (!x || !y) return null;
  const choice = ({ key, scene, role }: Member): AxisChoice => ({
    key,
    sceneId: scene.id,
    role,
    label: `${role}, ${scenes.length > 1 ? scene.title : bandQuantityWords(scene, role)}`,
  });
  return {
    x: choice(x),
    y: choice(y),
    options,
    setX: (key) => setPicked({ x: key, y: y.key }),
    setY: (key) => setPicked({ x: x.key, y: key }),
  };
}
