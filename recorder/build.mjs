// Builds the recorder into dist/: its scripts and what lies in public/; and what the command puts into pages.
import { build } from "vite";

for (const [i, name] of ["background", "page", "house", "panel", "drive"].entries()) {
  await build({
    root: import.meta.dirname,
    configFile: false,
    logLevel: "warn",
    build: {
      outDir: name === "drive" ? "check" : "dist",
      target: "es2022",
      emptyOutDir: i === 0, // of dist: check holds more than is built
      copyPublicDir: i === 0,
      lib: { entry: `src/${name}.ts`, formats: ["iife"], name: "recorder", fileName: () => `${name}.js` },
    },
  });
}
