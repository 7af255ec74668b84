// Heights and places that the server reckoned, in pixels: the strict policy allows no style attributes.
// A plain script at the head, so that nothing is painted before it has its place.
(() => {
  const place = (one) => {
    if (one.dataset?.top) one.style.top = `${one.dataset.top}px`;
    if (one.dataset?.height) one.style.height = `${one.dataset.height}px`;
  };
  new MutationObserver((changes) => {
    for (const change of changes) {
      for (const added of change.addedNodes) {
        if (!(added instanceof Element)) continue;
        place(added);
        added.querySelectorAll("[data-top], [data-height]").forEach(place);
      }
    }
  }).observe(document.documentElement, { childList: true, subtree: true });
})();
