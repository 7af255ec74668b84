// What others do shows here within a second, unless somebody is in the middle of something.
import { onSwap, putIn } from "./swap.js";

let touched = false; // typed (also in the finder), ticked or unfolded since the page came
let waiting = null; // a change that is not shown yet
let fetching = false;
let pressedAt = 0; // when a finger, a mouse button or a key went down; what it stands on stays until it is let go
const LONGEST_PRESS = 5000; // milliseconds: it may be let go where this page does not hear it
for (const kind of ["pointerdown", "keydown"]) document.addEventListener(kind, () => { pressedAt = Date.now(); }, true);
for (const kind of ["pointerup", "pointercancel", "keyup"]) {
  document.addEventListener(kind, () => { setTimeout(() => { pressedAt = 0; }, 100); }, true); // the click comes after it
}
for (const kind of ["input", "change", "click"]) {
  document.addEventListener(kind, (event) => {
    if (event.isTrusted && event.target.closest?.(kind === "click" ? "main summary" : "main, [data-finder]")) touched = true;
  }, true);
}

const OTHERS = "[data-fresh], [data-fresh-ticket]"; // what others do shows there

export function freshen(news) {
  const main = document.getElementById("main");
  const place = document.querySelector(OTHERS);
  if (!main || !place || !main.dataset.seen || Number(main.dataset.seen) >= news.change) return;
  const ticket = Number(place.dataset.freshTicket || 0);
  if (ticket && !news.tickets.includes(ticket)) return;
  if (!waiting) setTimeout(showNews, 150);
  waiting = { change: news.change, tries: 0 };
}

/** Show the page as it is now: the house was away for a while. */
export function anew() {
  if (!document.querySelector(OTHERS)) return; // what was looked for stays
  if (!waiting) setTimeout(showNews, 150);
  waiting = { change: Infinity, tries: 0 };
}

const isPressed = () => Date.now() - pressedAt < LONGEST_PRESS;
const inUse = () => fetching || isPressed() || document.querySelector("[aria-busy], dialog[open], [data-live]");

async function showNews() {
  const main = document.getElementById("main");
  const shows = document.querySelector(`${OTHERS}, [data-again]`); // something else may have come meanwhile
  if (!waiting || !shows || !main.dataset.seen || Number(main.dataset.seen) >= waiting.change) { waiting = null; return; }
  if (touched) {
    document.querySelector("[data-news]")?.removeAttribute("hidden");
    waiting = null;
    return;
  }
  if (inUse()) {
    waiting.tries += 1;
    if (waiting.tries < 40) setTimeout(showNews, 250); else waiting = null;
    return;
  }
  const wanted = waiting.change;
  fetching = true;
  waiting = null;
  try {
    const answer = await fetch(main.dataset.address, { headers: { "X-Fresh": "yes" } });
    const page = answer.ok && !answer.redirected ? new DOMParser().parseFromString(await answer.text(), "text/html") : null;
    const fresh = page && page.getElementById("main");
    if (fresh && main.isConnected && !touched && !document.querySelector("[aria-busy], dialog[open]")) {
      if (!isPressed()) putIn(fresh);
      else waiting ??= { change: wanted, tries: 0 };
    }
  } catch { /* the house is not there just now; the next change shows it */ } finally { fetching = false; }
  if (waiting) setTimeout(showNews, 250);
}

// A page of which more is to come asks again by itself.
let again = null;
function askAgain() {
  clearTimeout(again);
  const more = document.querySelector("[data-again]");
  if (!more) return;
  again = setTimeout(() => {
    waiting = { change: Infinity, tries: 0 };
    showNews().then(() => { if (!touched) askAgain(); });
  }, Number(more.dataset.again));
}

onSwap(() => { touched = false; askAgain(); });
askAgain();
