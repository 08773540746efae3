import { readFileSync } from "node:fs";
import { defineConfig } from "vite";

const fonts = {
  "text.ttf": "atkinson-hyperlegible-next/400Regular/AtkinsonHyperlegibleNext_400Regular.ttf",
  "bold.ttf": "atkinson-hyperlegible-next/700Bold/AtkinsonHyperlegibleNext_700Bold.ttf",
  // For letters that the others do not have.
  "other.ttf": "noto-sans/400Regular/NotoSans_400Regular.ttf",
  "title.ttf": "bricolage-grotesque/700Bold/BricolageGrotesque_700Bold.ttf",
};

// What draws pictures without a browser, run by the program itself: one script, and the letters.
export default defineConfig({
  publicDir: false,
  define: { "process.env.NODE_ENV": JSON.stringify("production") },
  plugins: [
    {
      name: "fonts",
      generateBundle() {
        for (const [fileName, from] of Object.entries(fonts))
          this.emitFile({ type: "asset", fileName, source: readFileSync(`node_modules/@expo-google-fonts/${from}`) });
      },
    },
  ],
  build: {
    outDir: "render",
    emptyOutDir: false,
    target: "es2017",
    reportCompressedSize: false,
    chunkSizeWarningLimit: 2000,
    lib: { entry: "src/chart/server.ts", formats: ["iife"], name: "uzzel", fileName: () => "draw.js" },
  },
});
