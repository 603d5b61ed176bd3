// A choice on which the form itself depends sends the form at once.
document.addEventListener("change", (event) => {
  if (event.target.dataset.submits !== undefined) event.target.form.requestSubmit();
});
