// A button that prints the page as it is.
document.addEventListener("click", (event) => {
  if (event.target.closest?.("[data-print]")) window.print();
});
