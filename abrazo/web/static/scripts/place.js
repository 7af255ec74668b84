// Where somebody is stays in sight in a long list of places.
import { onSwap } from "./swap.js";

function show() {
  const list = document.querySelector(".set-up-nav");
  const here = list?.querySelector("[aria-current]");
  if (!here || list.scrollHeight <= list.clientHeight) return;
  const above = list.getBoundingClientRect().top;
  const middle = here.getBoundingClientRect().top - above + list.scrollTop - list.clientHeight / 2;
  list.scrollTop = Math.max(0, middle);
}

show();
onSwap(show);
