// A file is read into the field that its control names; what the field held goes only when the file could be read.
import { changed } from "./unsaved.js";

document.addEventListener("change", async (event) => {
  const control = event.target;
  const name = control.dataset?.loads;
  const [file] = control.files ?? [];
  if (!name || !file) return;
  const field = control.form?.elements.namedItem(name);
  if (!field) return;
  field.value = await file.text();
  changed();
  field.focus();
});
