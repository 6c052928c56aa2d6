import { createSystem, defaultConfig, defineConfig } from "@chakra-ui/react";

const light = (value: string, dark: string) => ({ value: { base: value, _dark: dark } });

/** Paper, ink and two accents; class colours belong to the analyst and appear nowhere here. */
const config = defineConfig({
  globalCss: {
    html: { fontSize: "13px", colorPalette: "cool" },
    "html, body": { bg: "paper", color: "ink", lineHeight: 1.4 },
    "*:focus-visible": { outlineColor: "cool", outlineWidth: "2px", outlineOffset: "1px" },
  },
  theme: {
    tokens: {
      // The base is 13 px; nothing is set smaller than 12.
      fontSizes: {
        "2xs": { value: "0.92rem" },
        xs: { value: "0.92rem" },
        sm: { value: "1rem" },
        md: { value: "1rem" },
        lg: { value: "1.1rem" },
      },
      fonts: {
        body: { value: "'Atkinson Hyperlegible Next Variable', sans-serif" },
        heading: { value: "'Atkinson Hyperlegible Next Variable', sans-serif" },
      },
    },
    recipes: {
      // Nothing that is pressed is smaller than 24 px (WCAG 2.5.8).
      button: { variants: { size: { "2xs": { h: "24px", minW: "24px" } } } },
    },
    semanticTokens: {
      colors: {
        paper: light("#FBF9F4", "#1B2126"),
        card: light("#FFFFFF", "#232B31"),
        ink: light("#1C2A35", "#E9EDF0"),
        quiet: light("#5B6873", "#A4B0BA"),
        line: light("#DDD8CC", "#3A444C"),
        warm: light("#C8452A", "#C8452A"),
        warmText: light("#B23B22", "#F0937D"),
        cool: light("#1F6F94", "#7CC0E0"),
        coolTint: light("#E3EFF4", "#24404F"),
        good: light("#2E7D4F", "#6CC08F"),
        caution: light("#96540A", "#E9AE5B"),
        cautionTint: light("#FBF1E2", "#43351F"),
        surround: light("#777B7D", "#4B4F51"),
        bg: {
          DEFAULT: light("#FBF9F4", "#1B2126"),
          panel: light("#FFFFFF", "#232B31"),
          muted: light("#F1EDE3", "#2B343B"),
          subtle: light("#F6F3EB", "#273037"),
        },
        fg: { DEFAULT: light("#1C2A35", "#E9EDF0"), muted: light("#5B6873", "#A4B0BA") },
        border: { DEFAULT: light("#DDD8CC", "#3A444C") },
      },
    },
  },
});

export const system = createSystem(defaultConfig, config);
