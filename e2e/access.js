// The rules of access, read off a page as it is shown.
import { readFile } from "node:fs/promises";
import { createRequire } from "node:module";

const source = readFile(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

// What a page breaks: the rule, its impact and where. Of all rules, or of those named.
//
// The rules run in the page itself, which has no frames to gather from: what they find without the proof of what they
// do not find takes a sixth of the time.
export async function violations(page, rules) {
  if (!(await page.evaluate(() => "axe" in window))) await page.evaluate(await source);
  const found = await page.evaluate(async (rules) => {
    const options = { resultTypes: ["violations"], ...(rules && { runOnly: { type: "rule", values: rules } }) };
    return (await window.axe.run(options)).violations;
  }, rules);
  return found.map(({ id, impact, nodes }) => ({ id, impact, at: nodes.map((node) => node.target.join(" ")) }));
}

// A violation in a line.
export function told({ id, at }) {
  return `${id}: ${at.join(", ")}`;
}
