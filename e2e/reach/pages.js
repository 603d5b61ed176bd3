// Every kind of page that can be reached from the roster, one of each, as a visitor who follows links finds them.
import { openSession } from "../helpers.js";

const ID = /[0-9a-f]{8}-[0-9a-f-]{27}/g;
// What is saved rather than shown, and a way out.
const NO_PAGE = /\.(csv|xlsx|pdf|zip|ics|json|svg)$|\/(file|document|export)(\/|$)|^\/(sign-out|calendar\/file)/;

// The kind of an address: which row it is of, and what is asked of it, is the same to it.
export function kind(address) {
  const path = address.split(/[?#]/)[0].replace(ID, "{id}");
  return path
    .replace(/^(\/catalogue(?:\/gym)?)\/(?!new|gym$)[a-z_]+$/, "$1/{movement}")
    .replace(/^\/methods\/.*\//, "/methods/{school}/");
}

// Follows links breadth first; gives an address of every kind that answers with a page.
export async function crawl(page, starts) {
  const seen = new Map(starts.map((address) => [kind(address), address]));
  const waiting = [...seen.values()];
  while (waiting.length > 0) {
    const response = await page.goto(waiting.shift());
    if (!response.headers()["content-type"]?.startsWith("text/html")) {
      throw new Error(`${response.url()} is no page`);
    }
    const links = await page
      .locator("a[href^='/']:not([download])")
      .evaluateAll((all) => all.map((a) => a.getAttribute("href")));
    for (const link of links) {
      if (!NO_PAGE.test(link.split(/[?#]/)[0]) && !seen.has(kind(link))) {
        seen.set(kind(link), link);
        waiting.push(link);
      }
    }
  }
  return seen;
}

// Where the crawl begins: the roster, and a client and a session that have everything.
export async function starts(page) {
  await page.getByRole("link", { name: "Odalys Finch" }).click();
  const client = new URL(page.url()).pathname;
  await page.goto("/");
  await openSession(page, "Odalys Finch");
  return ["/", client, new URL(page.url()).pathname];
}
