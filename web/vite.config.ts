import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: { outDir: "dist", emptyOutDir: true, chunkSizeWarningLimit: 900 },
  // The guide shows the pictures of docs/screenshots.
  server: { proxy: { "/api": "http://127.0.0.1:8080" }, fs: { allow: [".."] } },
  // A test of many presses takes long on a busy machine.
  test: { environment: "jsdom", globals: true, setupFiles: ["./src/test-setup.ts"], testTimeout: 20_000 },
});
