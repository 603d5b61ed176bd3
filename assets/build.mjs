// Builds the style sheet, the script and the fonts into assets/dist, which the binary embeds.
import { copyFile, mkdir, rm, writeFile } from "node:fs/promises";
import { fileURLToPath } from "node:url";
import path from "node:path";
import { build } from "esbuild";
import * as sass from "sass";

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const modules = path.join(root, "node_modules");
const dist = path.join(root, "assets/dist");
const fonts = [
  ["bricolage-grotesque", "bricolage-grotesque-latin-wght-normal.woff2"],
  ["atkinson-hyperlegible-next", "atkinson-hyperlegible-next-latin-wght-normal.woff2"],
];

await rm(dist, { recursive: true, force: true });
await mkdir(dist, { recursive: true });

const css = sass.compile(path.join(root, "assets/scss/app.scss"), {
  loadPaths: [modules],
  style: "compressed",
  quietDeps: true,
  silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"],
});
await writeFile(path.join(dist, "app.css"), css.css);
await build({
  entryPoints: [path.join(root, "assets/js/app.js")],
  outfile: path.join(dist, "app.js"),
  bundle: true,
  minify: true,
  format: "iife",
  target: "es2022",
});
for (const [from, to] of [
  ["phone/app.js", "phone.js"],
  ["phone/worker.js", "go-worker.js"],
]) {
  await build({
    entryPoints: [path.join(root, "assets/js", from)],
    outfile: path.join(dist, to),
    bundle: true,
    minify: true,
    format: "iife",
    target: "es2022",
  });
}
await build({
  entryPoints: [path.join(root, "assets/js/theme.js")],
  outfile: path.join(dist, "theme.js"),
  minify: true,
  target: "es2022",
});
for (const [name, file] of fonts) {
  await copyFile(path.join(modules, "@fontsource-variable", name, "files", file), path.join(dist, file));
}
