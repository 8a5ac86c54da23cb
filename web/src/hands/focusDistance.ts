/** From number to number on the model by the Tab key, while a mode has the keys. */

/** The next distance on the model takes the keys, the first one after the last. */
export function focusDistance(): void {
  const all = [...document.querySelectorAll<HTMLElement>('.onStage .handle[role="slider"]')];
  const now = all.findIndex((e) => e.matches(':focus, :focus-within'));
  all[(now + 1) % all.length]?.focus();
}
