// A new house was made: ask again and again whether it is open, then go there.
async function look() {
  try {
    const answer = await fetch("/sign-in", { cache: "no-store" });
    if (answer.ok) {
      window.location.assign("/");
      return;
    }
  } catch {
    // it is just starting
  }
  window.setTimeout(look, 400);
}

window.setTimeout(look, 400);
