// Figures that follow a form while it is being filled in; the server reckons them.
const PAUSE = 200; // milliseconds after a key until they are asked for
let waiting = 0;
let asked = 0;

async function look(form) {
  const mine = ++asked;
  const answer = await fetch(form.dataset.look, { method: "POST", body: new FormData(form) });
  const words = answer.ok ? await answer.text() : "";
  const place = form.querySelector("[data-looked]");
  if (words && place && mine === asked) place.textContent = words; // a later answer than this one may be there
}

for (const [happening, pause] of [["change", 0], ["input", PAUSE]]) {
  document.addEventListener(happening, (event) => {
    const form = event.target.closest("form[data-look]");
    if (!form) return;
    clearTimeout(waiting);
    waiting = setTimeout(() => look(form), pause);
  });
}
