import reactHooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

// A room may use the rooms below it, never one above: app > stations > table, readout > forms >
// shared > map, charts, api. Stations do not know each other.
const forbid = (files, patterns, message) => ({
  files,
  rules: { "no-restricted-imports": ["error", { patterns: [{ regex: patterns, message }] }] },
});

export default tseslint.config(
  { ignores: ["dist", "node_modules", "src/api/schema.generated.ts", "*.js"] },
  ...tseslint.configs.strictTypeChecked,
  reactHooks.configs.flat["recommended-latest"],
  {
    languageOptions: {
      parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      complexity: ["error", 12],
      "max-lines": ["error", 250],
      "no-restricted-syntax": [
        "error",
        {
          selector: "CallExpression[callee.name=/^use(Work|ViewStore)$/][arguments.length=0]",
          message:
            "Say what of the store is needed: all that reads all of it is drawn at each change.",
        },
      ],
      "@typescript-eslint/restrict-template-expressions": ["error", { allowNumber: true }],
      "@typescript-eslint/no-confusing-void-expression": ["error", { ignoreArrowShorthand: true }],
    },
  },
  forbid(
    ["src/{map,charts}/**"],
    "/(api|app|stations|table|readout|shared|forms)/",
    "map/ and charts/ know no other room.",
  ),
  forbid(
    ["src/api/**"],
    "/(map|charts|app|stations|table|readout|shared|forms)/|^(ol|echarts)",
    "api/ knows no other room.",
  ),
  forbid(
    ["src/shared/**"],
    "/(app|stations|table|readout|forms)/|^(ol|echarts)",
    "shared/ is below.",
  ),
  forbid(["src/forms/**"], "/(app|stations|table|readout)/|^(ol|echarts)", "forms/ is below."),
  forbid(
    ["src/{table,readout}/**"],
    "/(app|stations)/|^(ol|echarts)",
    "Only map/ touches OpenLayers, only charts/ the chart library.",
  ),
  forbid(
    ["src/stations/*/**"],
    "/app/|\\.\\./\\.\\./stations|^\\.\\./(?!\\.\\.)[a-z]+/|^(ol|echarts)",
    "Stations do not import each other, nor the application.",
  ),
  forbid(["src/app/**"], "^(ol|echarts)", "Only map/ touches OpenLayers."),
);
