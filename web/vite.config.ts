import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  server: { proxy: { "/api": "http://127.0.0.1:8400" } },
  // The 3D part is loaded only by the screens that draw; it is large by nature.
  build: {
    chunkSizeWarningLimit: 1100,
    assetsInlineLimit: 0,
    outDir: "../src/cubedrill/screens", // in the package, which brings them along
    emptyOutDir: true,
  },
  // What is tested here keeps nothing to itself, so the 3D library is read once and not for each file.
  test: { environment: "node", include: ["src/**/*.test.ts"], isolate: false },
});
