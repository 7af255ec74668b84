// The screen locks itself when nobody touches it for as long as the house says; the house itself ends the sign-in then.
import { keepHalf } from "./half.js";

let timer = null;

function lock() {
  const button = document.querySelector("[data-lock]");
  button?.form?.requestSubmit(button);
}

function again() {
  clearTimeout(timer);
  const minutes = Number(document.getElementById("main")?.dataset.idle || 0);
  if (minutes) timer = setTimeout(lock, minutes * 60000);
}

for (const kind of ["pointerdown", "keydown", "scroll"]) document.addEventListener(kind, again, { capture: true, passive: true });
document.addEventListener("submit", (event) => { if (event.submitter?.matches("[data-lock]")) keepHalf(); }, true);
again();
