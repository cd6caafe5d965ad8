/** What moves the things on a screen waits while something is being pressed: it would move away from under the pointer, and the press be lost. */
let isPressed = false;
const waiting: (() => void)[] = [];

function go(): void {
  isPressed = false;
  for (const act of waiting.splice(0)) act();
}
// What another button opens, such as a menu, can keep its end to itself.
window.addEventListener('pointerdown', ({ button }) => (isPressed = button === 0), true);
// Not before others have heard of it: a box that is drawn anew while it is ticked would lose its tick.
window.addEventListener('click', go);
// A press that became a drag ends without a click.
for (const end of ['pointerup', 'pointercancel']) window.addEventListener(end, () => setTimeout(go), true);

/** Does something at once; while something is being pressed, as soon as that is done. */
export function oncePressed(act: () => void): void {
  if (isPressed) waiting.push(act);
  else act();
}
