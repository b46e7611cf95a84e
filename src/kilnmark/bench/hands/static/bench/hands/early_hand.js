// What a hand did before the bench was ready (see `early.js`), done now.

const replay = {
  keydown: ({ key, shiftKey, ctrlKey, metaKey, altKey }) =>
    document.body.dispatchEvent(
      new KeyboardEvent("keydown", {
        key,
        shiftKey,
        ctrlKey,
        metaKey,
        altKey,
        bubbles: true,
        cancelable: true,
      }),
    ),
  click: ({ target, onStage, clientX, clientY }, handles) => {
    if (onStage) handles.choose(new MouseEvent("click", { clientX, clientY }));
    else if (target.isConnected) target.closest("button")?.click();
  },
  dblclick: ({ onStage, clientX, clientY }, handles) => {
    if (onStage)
      handles.overlay.dispatchEvent(
        new MouseEvent("dblclick", { clientX, clientY, bubbles: true }),
      );
  },
};

export function doEarly(handles) {
  for (const one of window.kilnmarkEarly?.() ?? []) replay[one.type](one, handles);
}
