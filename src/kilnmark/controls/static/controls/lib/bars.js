// One bar divided into colours: a button for each, as wide as its share.

export function bar(root, colours, { chosen = -1, name, onchoose }) {
  root.replaceChildren(
    ...colours.map(({ colour, share }, n) => {
      const button = document.createElement("button");
      Object.assign(button, { type: "button", className: "bar-part", title: name(n) });
      button.style.flexGrow = Math.max(share, 0.04) * 100;
      button.style.backgroundColor = colour;
      button.setAttribute("aria-label", name(n));
      if (chosen >= -1) button.setAttribute("aria-pressed", String(n === chosen));
      button.addEventListener("click", () => onchoose(n));
      return button;
    }),
  );
}

export const HEX = /^#[0-9a-f]{6}$/;

// What was typed as a colour, or null.
export function hexOf(text) {
  const digits = text.trim().toLowerCase().replace(/^#/, "");
  const full = digits.length === 3 ? [...digits].map((c) => c + c).join("") : digits;
  return HEX.test(`#${full}`) ? `#${full}` : null;
}
