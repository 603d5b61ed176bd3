// Any drawing or chart of a page can be taken along: as SVG that stands by itself, or as PNG. A dialog lists what there is.
const DRAWN = [
  "fill",
  "fill-opacity",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "stroke-linecap",
  "stroke-linejoin",
  "stroke-opacity",
  "opacity",
  "paint-order",
  "font-family",
  "font-size",
  "font-weight",
  "letter-spacing",
  "text-anchor",
  "dominant-baseline",
];
// What a picture is drawn larger by, so that it is sharp on paper.
const SHARP = 3;
// Narrower ones are signs, not pictures.
const LEAST = 60;

function pictures() {
  const all = document.querySelectorAll("main svg[role][aria-label]");
  return [...all].filter((svg) => svg.viewBox.baseVal.width && svg.getBoundingClientRect().width >= LEAST);
}

// The first words that say what it is: the rest describes it.
function named(svg) {
  const text = svg.querySelector("title")?.textContent || svg.getAttribute("aria-label");
  return text.split(/[:;.]/)[0].trim().slice(0, 80) || "Picture";
}

function fileName(svg) {
  return (
    named(svg)
      .replaceAll(/[^A-Za-z0-9]+/g, "-")
      .replaceAll(/^-|-$/g, "")
      .toLowerCase() || "picture"
  );
}

let letters;
// The page's own letters, so that words keep their places wherever the picture is shown.
async function fontFace() {
  letters ??= (async () => {
    for (const sheet of document.styleSheets) {
      for (const rule of sheet.cssRules) {
        if (!(rule instanceof CSSFontFaceRule) || !rule.style.fontFamily.includes("Atkinson")) continue;
        const source = new URL(/url\("?([^")]+)/.exec(rule.style.src)[1], sheet.href);
        const bytes = new Uint8Array(await (await fetch(source)).arrayBuffer());
        let text = "";
        for (const byte of bytes) text += String.fromCharCode(byte);
        return `@font-face{font-family:${rule.style.fontFamily};font-weight:200 800;src:url(data:font/woff2;base64,${btoa(text)}) format("woff2")}`;
      }
    }
    return "";
  })();
  return letters;
}

function dress(from, to) {
  const style = getComputedStyle(from);
  // Handles are for the page alone.
  if (style.display === "none" || style.visibility === "hidden" || from.classList.contains("grip")) return false;
  for (const { name } of [...to.attributes]) {
    if (/^(class|style|role|tabindex|id|data-|aria-value)/.test(name)) to.removeAttribute(name);
  }
  for (const name of DRAWN) {
    const value = style.getPropertyValue(name);
    if (value && (value !== "none" || name === "fill" || name === "stroke")) to.setAttribute(name, value);
  }
  const inside = [...to.children];
  for (const [at, child] of [...from.children].entries()) {
    if (child instanceof SVGElement && !/^(title|desc|style|defs)$/.test(child.localName)) {
      if (!dress(child, inside[at])) inside[at].remove();
    }
  }
  return true;
}

// The picture by itself: with its styles, on the ground it stands on.
async function alone(svg) {
  const copy = svg.cloneNode(true);
  dress(svg, copy);
  const { x, y, width, height } = svg.viewBox.baseVal;
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", width);
  copy.setAttribute("height", height);
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  for (const [name, value] of Object.entries({ x, y, width, height })) ground.setAttribute(name, value);
  const paper = getComputedStyle(document.documentElement).getPropertyValue("--sheet").trim();
  ground.setAttribute("fill", paper || "#fff");
  copy.prepend(ground);
  if (copy.querySelector("text")) {
    const style = document.createElementNS("http://www.w3.org/2000/svg", "style");
    style.textContent = await fontFace();
    copy.prepend(style);
  }
  return new XMLSerializer().serializeToString(copy);
}

async function asPng(svg) {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(await alone(svg))}`;
  await image.decode();
  const canvas = document.createElement("canvas");
  const { width, height } = svg.viewBox.baseVal;
  canvas.width = Math.ceil(width * SHARP);
  canvas.height = Math.ceil(height * SHARP);
  canvas.getContext("2d").drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((done) => canvas.toBlob(done, "image/png"));
}

function save(blob, name) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

const WAYS = {
  "Save SVG": async (svg) => save(new Blob([await alone(svg)], { type: "image/svg+xml" }), `${fileName(svg)}.svg`),
  "Save PNG": async (svg) => save(await asPng(svg), `${fileName(svg)}.png`),
  "Copy SVG": async (svg) => navigator.clipboard.writeText(await alone(svg)),
  "Copy PNG": async (svg) => navigator.clipboard.write([new ClipboardItem({ "image/png": asPng(svg) })]),
};

function row(svg, told) {
  const line = document.createElement("li");
  const name = document.createElement("span");
  name.textContent = named(svg);
  line.append(name);
  for (const [label, way] of Object.entries(WAYS)) {
    // Only a page that came safely may copy.
    if (label.startsWith("Copy") && !navigator.clipboard) continue;
    const button = document.createElement("button");
    button.type = "button";
    button.className = "btn btn-small";
    button.textContent = label;
    button.setAttribute("aria-label", `${label}: ${name.textContent}`);
    button.addEventListener("click", async () => {
      try {
        await way(svg);
        const done = label.replace("Copy", "Copied as").replace("Save", "Saved as");
        told.textContent = `${done}: ${name.textContent}.`;
      } catch {
        told.textContent = "That did not work in this browser: save it instead.";
      }
    });
    line.append(button);
  }
  return line;
}

document.addEventListener("click", (event) => {
  if (!event.target.closest?.("[data-pictures]")) return;
  const dialog = document.getElementById("pictures");
  const told = dialog.querySelector("[role=status]");
  told.textContent = "";
  dialog.querySelector("ul").replaceChildren(...pictures().map((svg) => row(svg, told)));
  dialog.showModal();
});

// The button is there where there is something to take.
function offer() {
  const button = document.querySelector("[data-pictures]");
  if (button) button.hidden = pictures().length === 0;
}
document.addEventListener("DOMContentLoaded", offer);
document.addEventListener("htmx:after:swap", offer);
