import { defineConfig } from "vitest/config";

// Pure logic of the front end, without a page; `tests/web` stands beside the other tests.
export default defineConfig({
  server: { fs: { allow: [".."] } },
  test: { include: ["../tests/web/**/*.test.ts"], globals: true, environment: "node" },
});
