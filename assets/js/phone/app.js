import Alpine from "@alpinejs/csp";
import { hold } from "../player.js";
import { theme } from "../theme-switch.js";
import { sending } from "./sending.js";
import { workout } from "./workout.js";

// What keeps the pages when the signal is gone.
async function keepPages() {
  if (!("serviceWorker" in navigator)) return;
  await navigator.serviceWorker.register("/go-worker.js", { scope: "/go/" });
  const worker = (await navigator.serviceWorker.ready).active;
  const parts = [...document.querySelectorAll("link[href], script[src]")].map((e) => e.href || e.src);
  const fonts = performance.getEntriesByType("resource").map((e) => e.name);
  const own = (address) =>
    new URL(address).origin === location.origin && new URL(address).pathname.startsWith("/assets/");
  worker?.postMessage({ keep: [location.href, ...new Set([...parts, ...fonts].filter(own))] });
}
keepPages();

// A drawing that came along as text.
Alpine.directive("picture", (element, { expression }, { evaluateLater, effect }) => {
  const text = evaluateLater(expression);
  effect(() =>
    text((svg) => {
      const drawn = svg ? new DOMParser().parseFromString(svg, "text/html").querySelector("svg") : null;
      element.replaceChildren(...(drawn ? [drawn] : []));
    }),
  );
});
Alpine.data("hold", hold);
Alpine.data("sending", sending);
Alpine.data("theme", theme);
Alpine.data("workout", workout);
Alpine.start();
