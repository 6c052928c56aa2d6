import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig({
  plugins: [react()],
  server: { proxy: { "/api": "http://127.0.0.1:8731" } },
  build: {
    // Fonts stay files of their own: the content policy allows no data: fonts.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
  },
});
