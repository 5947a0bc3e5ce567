import { createHash } from "node:crypto";
import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

const BASE = "/static/";
const OWN = ["mark.svg", "manifest.webmanifest", "mark-192.png", "mark-512.png"];

/** Writes the service worker with the files of the shell, and into the page what this build is called. */
function shell(): Plugin {
  return {
    name: "shell",
    writeBundle({ dir }, bundle) {
      const files = Object.keys(bundle).filter((name) => /\.(js|css|woff2)$/.test(name));
      // File names carry their contents, so that a build is called by them.
      const build = createHash("sha256").update(files.sort().join("\n")).digest("hex").slice(0, 12);
      const page = join(dir!, "index.html");
      const named = readFileSync(page, "utf8").replace(
        "</head>",
        `<meta name="build" content="${build}" /></head>`,
      );
      writeFileSync(page, named);
      const worker = readFileSync("worker.js", "utf8")
        .replace("__BUILD__", build)
        .replace("__FILES__", JSON.stringify([...files, ...OWN].map((name) => BASE + name)));
      writeFileSync(join(dir!, "worker.js"), worker);
    },
  };
}

export default defineConfig(({ command }) => ({
  plugins: [react(), shell()],
  base: command === "build" ? BASE : "/",
  build: { target: "es2022", sourcemap: false, chunkSizeWarningLimit: 1200 },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
}));
