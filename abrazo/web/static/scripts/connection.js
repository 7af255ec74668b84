// The connection to the house. What was sent is kept by the page and sent again, with its key, until it is answered.
const EVERY = 1000; // milliseconds between tries
const PATIENCE = 15000; // for one answer, then twice as long; an act with the same key is done once however often it is sent
const SILENCE = 5000; // of the stream before it is said: the browser takes three seconds to begin an ended one anew
const plain = window.fetch.bind(window);
const back = []; // what is done when the house answers again
let waiting = 0; // requests that are sent again and again
let silentSince = null;

const pause = (milliseconds) => new Promise((done) => { setTimeout(done, milliseconds); });

function show() {
  const line = document.getElementById("no-connection");
  if (!line) return;
  const silent = silentSince !== null && Date.now() - silentSince >= SILENCE;
  line.hidden = !waiting && !silent;
  line.querySelector("[data-sent]").hidden = !waiting;
  line.querySelector("[data-idle-words]").hidden = Boolean(waiting);
}

async function once(address, options, again, longest) {
  const whole = !(options.body instanceof FormData); // a file takes as long as it takes
  const patience = new AbortController();
  const timer = whole ? setTimeout(() => patience.abort(), longest) : 0;
  const headers = again ? { ...options.headers, "X-Again": "yes" } : options.headers;
  try {
    const answer = await plain(address, { ...options, headers, signal: patience.signal });
    const body = await answer.text();
    const { ok, redirected, url, status } = answer;
    return { ok, redirected, url, status, headers: answer.headers, text: async () => body };
  } finally {
    clearTimeout(timer);
  }
}

async function untilAnswered(address, options) {
  let tries = 0, longest = PATIENCE;
  for (;;) {
    try {
      const answer = await once(address, options, tries > 0, longest);
      if (tries) waiting -= 1;
      show();
      return answer;
    } catch (fault) {
      if (fault.name === "AbortError") longest *= 2;
      if (!tries) waiting += 1;
      tries += 1;
      show();
      await pause(EVERY);
    }
  }
}

const ofPage = (options) => Boolean(options?.headers?.["X-Alpine-Request"]);
window.fetch = (address, options) => (ofPage(options) ? untilAnswered(address, options) : plain(address, options));

/** Hear from a stream whether the house is there. */
export function watch(stream) {
  stream.addEventListener("open", () => {
    const was = silentSince !== null && Date.now() - silentSince >= SILENCE;
    silentSince = null;
    show();
    if (was) back.forEach((act) => act());
  });
  stream.addEventListener("error", () => {
    silentSince ??= Date.now();
    setTimeout(show, SILENCE);
  });
}

/** Do something when the house answers again after a silence. */
export const onBack = (act) => back.push(act);

// What would leave the page waits until the house is there: the browser's own page of faults forgets what was typed.
async function waitForHouse(leave) {
  let tries = 0;
  for (;;) {
    try {
      await plain("/static/mark.svg", { cache: "no-store" });
      break;
    } catch {
      if (!tries) waiting += 1;
      tries += 1;
      show();
      await pause(EVERY);
    }
  }
  if (tries) waiting -= 1;
  silentSince = null;
  show();
  leave();
}

const gone = () => waiting > 0 || silentSince !== null;
document.addEventListener("submit", (event) => {
  if (!gone() || event.target._ajax_target || event.target.method === "dialog") return;
  event.preventDefault();
  event.stopImmediatePropagation();
  const { target, submitter } = event;
  waitForHouse(() => {
    if (!target.isConnected) document.body.append(target); // the page was shown anew meanwhile; what was pressed still counts
    target.requestSubmit(submitter);
  });
}, true);
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[href]");
  if (!gone() || !link || link._ajax_target || link.getAttribute("href").startsWith("#")) return;
  event.preventDefault();
  waitForHouse(() => { window.location.href = link.href; });
}, true);
