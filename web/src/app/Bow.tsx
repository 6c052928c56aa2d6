interface Props {
  readonly filled: boolean;
  readonly attention: boolean;
}

/** One bow of the tail: filled where we are, with a dot where something needs attention. */
export function Bow({ filled, attention }: Props) {
  const colour = filled ? "var(--chakra-colors-warm)" : "var(--chakra-colors-quiet)";
  return (
    <svg width="44" height="22" viewBox="0 0 44 22" aria-hidden style={{ position: "relative" }}>
      <path
        d="M7 3v16l15-8zM37 3v16l-15-8z"
        fill={filled ? colour : "var(--chakra-colors-paper)"}
        stroke={colour}
        strokeWidth="1.3"
        strokeLinejoin="round"
      />
      {attention && <circle cx="39" cy="4" r="4" fill="var(--chakra-colors-caution)" />}
    </svg>
  );
}
