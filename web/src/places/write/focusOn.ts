/** Gives the keyboard to a block, as soon as it is on the page: those far away come there by scrolling. */
export function focusOn(block: string, tries = 30) {
  const row = document.querySelector(`[data-block="${CSS.escape(block)}"]`);
  if (row)
    row
      .querySelector<HTMLElement>("button[data-figure], [data-words] button, input[data-words], a[data-words]")
      ?.focus({ preventScroll: true });
  else if (tries > 0) requestAnimationFrame(() => focusOn(block, tries - 1));
}
