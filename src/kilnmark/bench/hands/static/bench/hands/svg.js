// Shapes drawn over the piece. What is of the same sort stays the same element: a press that began on it ends on it, and two make a
// double-click.

const SVG = "http://www.w3.org/2000/svg";

export const make = (name, attributes) => {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  return element;
};

// What is wanted, in the place of what was.
export function put(overlay, wanted) {
  const there = [...overlay.children];
  const alike = (fresh) =>
    there.findIndex(
      (one) =>
        one.tagName === fresh.tagName && one.getAttribute("class") === fresh.getAttribute("class"),
    );
  const shown = wanted.map((fresh) => {
    const at = alike(fresh);
    return at < 0 ? fresh : become(there.splice(at, 1)[0], fresh);
  });
  for (const rest of there) rest.remove();
  let next = overlay.firstElementChild;
  for (const one of shown) {
    if (one === next) next = next.nextElementSibling;
    else overlay.insertBefore(one, next);
  }
}

// A style that is set by its attribute would breach the policy.
function become(element, fresh) {
  for (const { name } of Array.from(element.attributes))
    if (name !== "style" && !fresh.hasAttribute(name)) element.removeAttribute(name);
  for (const { name, value } of fresh.attributes)
    if (name !== "style" && element.getAttribute(name) !== value) element.setAttribute(name, value);
  element.style.cssText = fresh.style.cssText;
  return element;
}
