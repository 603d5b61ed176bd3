// Text that is cut to a height scrolls when it is long: only then is it a stop of the keyboard.
const CUT = ".written, .changes, .kit-line, .word-says";

function mark() {
  for (const text of document.querySelectorAll(CUT)) {
    if (text.scrollHeight > text.clientHeight) text.tabIndex = 0;
    else text.removeAttribute("tabindex");
  }
}

mark();
addEventListener("resize", mark);
document.addEventListener("htmx:after:swap", mark);
// What unfolds is measured when it is to be seen.
document.addEventListener("toggle", mark, true);
