// Builds the style sheet, the script and the fonts into assets/dist, which the binary embeds.
import { copyFile, mkdir, readFile, rm, writeFile } from "node:fs/promises";
import { fileURLToPath } from "node:url";
import path from "node:path";
import { build } from "esbuild";
import * as sass from "sass";
import wawoff2 from "wawoff2";

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const modules = path.join(root, "node_modules");
const dist = path.join(root, "assets/dist");
const fonts = [
  ["bricolage-grotesque", "bricolage-grotesque-latin-wght-normal.woff2"],
  ["atkinson-hyperlegible-next", "atkinson-hyperlegible-next-latin-wght-normal.woff2"],
];

// What is printed is set in these, the first that has a letter: a printed sheet knows no fonts but its own.
const printed = [
  ["atkinson-hyperlegible-next", "latin"],
  ["atkinson-hyperlegible-next", "latin-ext"],
  ["noto-sans", "latin-ext"],
  ["noto-sans", "vietnamese"],
  ["noto-sans", "cyrillic"],
  ["noto-sans", "greek"],
];

await rm(dist, { recursive: true, force: true });
await mkdir(dist, { recursive: true });

const style = (name) =>
  sass.compile(path.join(root, "assets/scss", name), {
    loadPaths: [modules],
    style: "compressed",
    quietDeps: true,
    silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"],
  }).css;
await writeFile(path.join(dist, "app.css"), style("app.scss"));
// A drawing on paper has the light colours, and no reader of it knows variables.
const pictures = style("pictures.scss");
const colours = new Map(
  [...pictures.matchAll(/(--[a-z-]+):\s*([^;}]+)/g)].map(([, name, value]) => [name, value]).reverse(),
);
const plain = pictures.replaceAll(/var\((--[a-z-]+)\)/g, (_, name) => colours.get(name));
await writeFile(path.join(dist, "pictures.css"), plain.replaceAll(/@[^{]+\{(?:[^{}]*\{[^{}]*\})*[^{}]*\}/g, ""));
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
for (const [at, [name, letters]] of printed.entries()) {
  const file = path.join(modules, "@fontsource-variable", name, "files", `${name}-${letters}-wght-normal.woff2`);
  await writeFile(path.join(dist, `printed-${at}.ttf`), await wawoff2.decompress(await readFile(file)));
}
