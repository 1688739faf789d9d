// Builds the recorder into dist/: three scripts and what lies in public/.
import { build } from "vite";

for (const [i, name] of ["background", "page", "house", "panel"].entries()) {
  await build({
    root: import.meta.dirname,
    configFile: false,
    logLevel: "warn",
    build: {
      target: "es2022",
      emptyOutDir: i === 0,
      copyPublicDir: i === 0,
      lib: { entry: `src/${name}.ts`, formats: ["iife"], name: "recorder", fileName: () => `${name}.js` },
    },
  });
}
