// Talking to the server. Every answer is {ok, status, data, message}; a lost connection is an answer too.

// The token of the cookie is always the one of the session that is going on, whoever signed in, in whichever tab.
const token = () =>
  document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ??
  document.querySelector("[name=csrfmiddlewaretoken]")?.value ??
  "";
const LOST = "Kilnmark does not answer. What you change is kept here, and goes on when it is back.";
const SIGNED_OUT =
  "You were signed out. What you change is kept here; sign in again, here or in another tab, and it goes on.";
const FAILED = "That did not work. Nothing was changed.";
const KEPT_ALIVE = 30_000; // bytes: browsers refuse more than 64 kB of such requests together
const PASSING = [0, 401, 429, 500, 502, 503, 504, 507]; // statuses of what may go well a little later

const signedOut = (response, data) =>
  response.status === 401 ||
  data?.reason === "signed-out" ||
  (response.redirected && response.url.includes("/sign-in/"));

async function told(response) {
  const json = response.headers.get("content-type")?.includes("json");
  return json ? response.json() : response.text();
}

// What a proxy or a hotel's network says in our place is no answer.
function ours(response) {
  if (!response.headers.has("X-Kilnmark")) throw new Error("somebody else answered");
  return response;
}

async function answer(request) {
  try {
    const response = ours(await request);
    const data = await told(response);
    if (signedOut(response, data))
      return { ok: false, status: 401, data: {}, message: SIGNED_OUT, signedOut: true };
    return {
      ok: response.ok,
      status: response.status,
      data,
      message: data.message || (response.ok ? "" : FAILED),
      filling: response.headers.get("X-Filling") === "1",
    };
  } catch (error) {
    return { ok: false, status: 0, data: {}, message: LOST, aborted: error.name === "AbortError" };
  }
}

// Whether the same may be asked again and go well: nobody answered, the session has ended, the disk is full for now.
export const passes = ({ ok, status }) => !ok && PASSING.includes(status);

// progress : (bytes that are sent) is told of files on their way.
export function post(url, data, progress = null) {
  const form = data instanceof FormData;
  const headers = { "X-CSRFToken": token(), Accept: "application/json" };
  if (!form) headers["Content-Type"] = "application/json";
  if (form && progress) return answer(watched(url, headers, data, progress));
  const body = form ? data : JSON.stringify(data);
  return answer(
    fetch(url, { method: "POST", headers, body, keepalive: !form && body.length < KEPT_ALIVE }),
  ); // goes on when the page ends
}

// As fetch does it, which tells nothing of how far files are.
function watched(url, headers, body, progress) {
  return new Promise((done, failed) => {
    const request = new XMLHttpRequest();
    request.open("POST", url);
    request.responseType = "blob";
    for (const [name, value] of Object.entries(headers)) request.setRequestHeader(name, value);
    request.upload.onprogress = ({ loaded }) => progress(loaded);
    request.onload = () =>
      done(new Response(request.response, { status: request.status, headers: headersOf(request) }));
    for (const end of ["onerror", "onabort", "ontimeout"])
      request[end] = () => failed(new Error("nobody answers"));
    request.send(body);
  });
}

function headersOf(request) {
  const found = new Headers();
  for (const name of ["content-type", "X-Kilnmark"])
    if (request.getResponseHeader(name) !== null) found.set(name, request.getResponseHeader(name));
  return found;
}

export const get = (url) => answer(fetch(url, { headers: { Accept: "text/html" } }));
export const getJson = (url) => answer(fetch(url, { headers: { Accept: "application/json" } }));

export async function picture(url, data, signal) {
  const headers = {
    "X-CSRFToken": token(),
    Accept: "application/json",
    "Content-Type": "application/json",
  };
  try {
    const response = ours(
      await fetch(url, { method: "POST", headers, body: JSON.stringify(data), signal }),
    );
    if (response.ok && response.headers.get("content-type")?.startsWith("image/"))
      return {
        ok: true,
        image: await decoded(await response.blob()),
        told: response.headers.get("X-Told") ?? "",
      };
    const data_ = await told(response);
    if (signedOut(response, data_))
      return { ok: false, status: 401, message: SIGNED_OUT, signedOut: true };
    return {
      ok: false,
      status: response.status,
      reason: data_.reason,
      message: data_.message || FAILED,
    };
  } catch (error) {
    return { ok: false, status: 0, message: LOST, aborted: error.name === "AbortError" };
  }
}

// A picture that was cut short on its way does not decode: as good as lost.
async function decoded(blob) {
  const image = await createImageBitmap(blob);
  image.clear = blob.type === "image/png";
  return image;
}
