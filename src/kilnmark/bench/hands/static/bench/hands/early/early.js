// Before the bench is ready it notes what a hand does; the bench asks for it, once, and does it then.

(() => {
  const noted = [];
  const names = ["keydown", "click", "dblclick"];
  const inField = (target) => target.closest?.("input, textarea, select, a");

  function note(event) {
    const { type, target, key, shiftKey, ctrlKey, metaKey, altKey, clientX, clientY } = event;
    if (!event.isTrusted || inField(target)) return;
    noted.push({
      type,
      target,
      key,
      shiftKey,
      ctrlKey,
      metaKey,
      altKey,
      clientX,
      clientY,
      onStage: Boolean(target.closest?.("#stage")),
    });
  }

  for (const name of names) document.addEventListener(name, note, true);
  window.kilnmarkEarly = () => {
    for (const name of names) document.removeEventListener(name, note, true);
    window.kilnmarkEarly = () => [];
    return noted;
  };
})();
