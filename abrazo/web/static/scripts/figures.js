// Figures that follow a form while it is being filled in; the server reckons them.
document.addEventListener("change", async (event) => {
  const form = event.target.closest("form[data-look]");
  if (!form) return;
  const answer = await fetch(form.dataset.look, { method: "POST", body: new FormData(form) });
  const place = form.querySelector("[data-looked]");
  if (answer.ok && place) place.textContent = await answer.text();
});
