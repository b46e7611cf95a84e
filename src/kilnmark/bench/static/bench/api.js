// Talking to the server. Every answer is {ok, status, data}; a lost connection is an answer too.

const token = () => document.querySelector("[name=csrfmiddlewaretoken]").value;
const LOST = "Kilnmark does not answer. Your last saved state is safe; this goes on when it is back.";

const SIGNED_OUT = "You were signed out. Sign in again in another tab; then make your last change once more.";
const signedOut = (response) => response.redirected && response.url.includes("/sign-in/");

async function answer(request) {
  try {
    const response = await request;
    if (signedOut(response)) return { ok: false, status: 401, data: {}, message: SIGNED_OUT };
    const data = response.headers.get("content-type")?.includes("json") ? await response.json() : await response.text();
    const message = data.message || (response.ok ? "" : "That did not work. Nothing was changed.");
    return { ok: response.ok, status: response.status, data, message };
  } catch (error) {
    return { ok: false, status: 0, data: {}, message: LOST, aborted: error.name === "AbortError" };
  }
}

export function post(url, data) {
  const form = data instanceof FormData;
  const headers = { "X-CSRFToken": token(), Accept: "application/json" };
  if (!form) headers["Content-Type"] = "application/json";
  return answer(fetch(url, { method: "POST", headers, body: form ? data : JSON.stringify(data) }));
}

export const get = (url) => answer(fetch(url, { headers: { Accept: "text/html" } }));
export const getJson = (url) => answer(fetch(url, { headers: { Accept: "application/json" } }));

export async function picture(url, data, signal) {
  const headers = { "X-CSRFToken": token(), Accept: "application/json", "Content-Type": "application/json" };
  try {
    const response = await fetch(url, { method: "POST", headers, body: JSON.stringify(data), signal });
    if (signedOut(response)) return { ok: false, status: 401, message: SIGNED_OUT };
    if (response.ok) return { ok: true, blob: await response.blob() };
    const told = await response.json();
    return { ok: false, status: response.status, reason: told.reason, message: told.message };
  } catch (error) {
    return { ok: false, status: 0, message: LOST, aborted: error.name === "AbortError" };
  }
}
