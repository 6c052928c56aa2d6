import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  server: { proxy: { "/api": "http://127.0.0.1:8731" } },
  build: {
    // Fonts stay files of their own: the content policy allows no data: fonts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    rolldownOptions: {
      output: {
        // Pieces that the browser compiles side by side, and keeps when only our code changes.
        codeSplitting: {
          groups: [
            { name: "map", test: /node_modules\/(ol|rbush|quickselect|earcut|pbf)\// },
            { name: "react", test: /node_modules\/(react|react-dom|react-router|scheduler)\// },
            {
              name: "interface",
              test: /node_modules\/(@chakra-ui|@ark-ui|@zag-js|@emotion|@floating-ui)\//,
            },
          ],
        },
      },
    },
  },
});
