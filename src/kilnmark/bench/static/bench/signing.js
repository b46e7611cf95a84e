// Signing in again in place, when a session has ended: what waits to be saved goes on.

import { post } from "./api.js";

export function signingIn(dialog, url, session) {
  const form = dialog.querySelector("form");
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const answer = await post(url, new FormData(form));
    dialog.querySelector("[data-sign-in-trouble]").textContent = answer.ok ? "" : answer.signedOut ? "Try once more." : answer.message;
    if (!answer.ok) return;
    form.querySelector("[name=password]").value = "";
    dialog.close();
    session.say("signed-in");
    session.again();
  });
}
