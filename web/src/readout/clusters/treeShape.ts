export interface Joint {
  readonly first: number;
  readonly second: number;
  readonly height: number;
}

/** A branch of the tree: where it stands, how high, what hangs from it. */
export interface Branch {
  readonly x: number;
  readonly height: number;
  readonly leaves: readonly number[];
  /** Places of its two parts; none for a leaf. */
  readonly parts: readonly [Branch, Branch] | null;
}

/** The tree with its leaves side by side, 0, 1, 2, …, so that no lines cross. */
export function treeOf(n: number, joints: readonly Joint[]): Branch | null {
  if (n === 0) return null;
  const top = n + joints.length - 1;
  const order = leavesOf(top, n, joints);
  const place = new Map(order.map((leaf, i) => [leaf, i]));
  return branchOf(top, n, joints, place);
}

function leavesOf(node: number, n: number, joints: readonly Joint[]): number[] {
  const joint = joints[node - n];
  if (!joint) return [node];
  return [...leavesOf(joint.first, n, joints), ...leavesOf(joint.second, n, joints)];
}

function branchOf(
  node: number,
  n: number,
  joints: readonly Joint[],
  place: ReadonlyMap<number, number>,
): Branch {
  const joint = joints[node - n];
  if (!joint) return { x: place.get(node) ?? 0, height: 0, leaves: [node], parts: null };
  const first = branchOf(joint.first, n, joints, place);
  const second = branchOf(joint.second, n, joints, place);
  return {
    x: (first.x + second.x) / 2,
    height: joint.height,
    leaves: [...first.leaves, ...second.leaves],
    parts: [first, second],
  };
}

/** All branches that join others, the highest first. */
export function jointsIn(branch: Branch | null): Branch[] {
  if (!branch?.parts) return [];
  const [first, second] = branch.parts;
  return [branch, ...jointsIn(first), ...jointsIn(second)].toSorted((a, b) => b.height - a.height);
}

/** Leaves from left to right. */
export function leavesIn(branch: Branch | null): Branch[] {
  if (!branch) return [];
  return branch.parts ? branch.parts.flatMap(leavesIn) : [branch];
}
