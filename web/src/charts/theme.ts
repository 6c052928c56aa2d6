export interface Inks {
  ink: string;
  quiet: string;
  line: string;
  card: string;
  cool: string;
}

export const FONT = "'Atkinson Hyperlegible Next Variable', sans-serif";

/** The theme's colours, for canvases that do not follow it by themselves. */
export function inksOf(element: HTMLElement): Inks {
  const token = (name: string) =>
    getComputedStyle(element).getPropertyValue(`--chakra-colors-${name}`).trim();
  return {
    ink: token("ink"),
    quiet: token("quiet"),
    line: token("line"),
    card: token("card"),
    cool: token("cool"),
  };
}

/** Call whenever the theme changes; answers with the way to stop. */
export function onTheme(draw: () => void): () => void {
  const themes = new MutationObserver(draw);
  themes.observe(document.documentElement, { attributeFilter: ["class"] });
  return () => themes.disconnect();
}
