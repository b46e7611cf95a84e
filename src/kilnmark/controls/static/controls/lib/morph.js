// A fragment from the server in the place of what an element holds, with Alpine's morph: what has the focus keeps it, open folds
// and menus stay open. What has another `key` is another element.

const FIELDS = "input, textarea, select";

// Fields that a hand is changing and has not let go of: what it has typed is not taken from it.
const inHand = new WeakSet();
document.addEventListener("input", ({ target }) => inHand.add(target), true);
for (const name of ["change", "focusout"])
  document.addEventListener(name, ({ target }) => inHand.delete(target), true);

// A field shows what the server says, even where a hand has changed it since.
function sync(field, fresh) {
  if (inHand.has(field) && field === document.activeElement) return;
  if (field.type === "checkbox" || field.type === "radio") field.checked = fresh.checked;
  else if (field.type !== "file" && field.value !== fresh.value) field.value = fresh.value;
}

// An open menu stays open, where it is: a hand is on its way to one of its lines.
const OPEN_MENU = '[data-bs-toggle="dropdown"].show, .dropdown-menu.show';

const optionsFor = (root) => ({
  key: (element) => element.getAttribute("key") || element.id,
  updating(element, fresh, childrenOnly, skip) {
    if (element.nodeType !== Node.ELEMENT_NODE || element === root) return;
    if (element.tagName === "DETAILS") fresh.open = element.open;
    if (element.matches(OPEN_MENU)) childrenOnly();
    if (element.dataset.own === undefined || fresh.dataset?.own === undefined) return;
    Object.assign(element.dataset, fresh.dataset); // it draws its inside by itself
    skip();
    element.dispatchEvent(new CustomEvent("refreshed"));
  },
  updated(element, fresh) {
    if (element.matches?.(FIELDS) && fresh?.matches?.(FIELDS)) sync(element, fresh);
  },
});

export function morph(element, html) {
  const fresh = element.cloneNode(false);
  fresh.innerHTML = html;
  window.Alpine.morph(element, fresh, optionsFor(element));
}
