/** Agreement in the cool tint, confusion the warmer the more of it. */
export function confusionTint(n: number, agrees: boolean, worst: number): string {
  if (agrees) return "var(--chakra-colors-cool-tint)";
  if (n === 0) return "transparent";
  const share = Math.round(12 + (38 * n) / worst);
  return `color-mix(in srgb, var(--chakra-colors-warm) ${share}%, transparent)`;
}
