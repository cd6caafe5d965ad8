/**
 * Presses with a mouse, finger or pen. What one presses is what one means, wherever things on the screen move while the button is
 * held: a message that comes or goes above a button moves it away from under the pointer, and the browser would call that no click.
 */
const pressable = 'button, a[href], label, input, summary, [role="button"], [role="option"], [role="menuitem"], [role="tab"]';
/** In pixels: who moves further has dragged, or changed their mind. */
const still = 4;

interface Press {
  readonly target: HTMLElement | null;
  readonly x: number;
  readonly y: number;
}
let press: Press | null = null;
/** What was pressed and has moved away. */
let moved: HTMLElement | null = null;
const waiting: (() => void)[] = [];

function go(): void {
  press = null;
  for (const act of waiting.splice(0)) act();
}

/** With a key held a press means something else, such as another tab. */
const isPlain = (event: MouseEvent): boolean => !(event.ctrlKey || event.metaKey || event.shiftKey || event.altKey);

function begin(event: PointerEvent): void {
  moved = null;
  // What another button opens, such as a menu, can keep its end to itself.
  if (event.button !== 0) return;
  const target = isPlain(event) && event.target instanceof Element ? event.target.closest<HTMLElement>(pressable) : null;
  press = { target, x: event.clientX, y: event.clientY };
}

function end({ clientX: x, clientY: y, type }: PointerEvent): void {
  const target = press?.target ?? null;
  const isStill = press !== null && Math.hypot(x - press.x, y - press.y) <= still;
  if (type === 'pointerup' && isStill && target?.isConnected === true && !target.contains(document.elementFromPoint(x, y))) moved = target;
  // A press that became a drag ends without a click.
  setTimeout(() => {
    const pressed = moved;
    moved = null;
    pressed?.click();
    go();
  });
}

window.addEventListener('pointerdown', begin, true);
for (const type of ['pointerup', 'pointercancel'] as const) window.addEventListener(type, end, true);
window.addEventListener(
  'click',
  (event) => {
    if (moved === null || !event.isTrusted) return;
    // The browser has taken it for a click on what is around both.
    if (event.target instanceof Node && moved.contains(event.target)) moved = null;
    else {
      event.stopImmediatePropagation();
      event.preventDefault();
    }
  },
  true,
);
// Not before others have heard of it: a box that is drawn anew while it is ticked would lose its tick.
window.addEventListener('click', go);

/** Does something that moves things on the screen: at once, but while something is being pressed as soon as that is done. */
export function oncePressed(act: () => void): void {
  if (press === null) act();
  else waiting.push(act);
}
