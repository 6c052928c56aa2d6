/** A band of a scene, as the server is asked for it. */
export function memberKey(sceneId: number, role: string): string {
  return `${sceneId}:${role}`;
}

export function memberOf(key: string): { sceneId: number; role: string } {
  const at = key.indexOf(":");
  return { sceneId: Number(key.slice(0, at)), role: key.slice(at + 1) };
}
