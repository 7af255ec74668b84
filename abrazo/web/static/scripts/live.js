// A charge on a card machine, live: its steps as they come, then where to go.
import { onSwap } from "./swap.js";

let stream = null;

function follow() {
  const live = document.querySelector("[data-live]");
  const url = live ? live.dataset.live : "";
  if (stream && stream.address === url) return;
  if (stream) stream.close();
  stream = null;
  if (!url) return;
  stream = new EventSource(url);
  stream.address = url;
  stream.addEventListener("error", () => {
    if (!stream || stream.readyState !== EventSource.CLOSED) return; // else it connects again by itself
    stream = null;
    setTimeout(follow, 1000);
  });
  stream.addEventListener("step", (event) => show(JSON.parse(event.data)));
  stream.addEventListener("ended", (event) => {
    stream.close();
    stream = null;
    const here = document.querySelector("[data-live]");
    const onward = here && here.querySelector("[data-onward]");
    if (!onward) return;
    if ("quiet" in here.dataset) {
      onward.href = window.location.pathname + window.location.search; // somebody else's charge: stay here
    } else {
      onward.href = JSON.parse(event.data).onward;
    }
    onward.click();
  });
}

function show({ step, words }) {
  for (const word of document.querySelectorAll("[data-step]")) word.textContent = words;
  let past = true;
  for (const item of document.querySelectorAll(".steps li")) {
    const now = item.dataset.name === step;
    if (now) past = false;
    item.className = now ? "now" : past ? "past" : "";
  }
}
onSwap(follow);
follow();
