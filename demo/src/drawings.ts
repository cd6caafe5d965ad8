/** Drawings that stand in the demo where a co-operative would have photos. */
import { Random } from './random.js';

/** Boxes of painted wood, as keepers paint them to tell their hives apart. */
const paints = ['#d8b45a', '#8fae8b', '#9fb7c9', '#c98f6b', '#e6d9b8', '#7d8f6a'] as const;
const skies = ['#dfe9ee', '#efe6d2', '#d8e4da'] as const;

/** The hive of a number at its stand, as SVG of 960 by 720. */
export function hiveDrawing(n: number): string {
  const random = new Random(700 + n);
  const boxes = random.whole(2, 4);
  const paint = random.pick(paints);
  const width = random.whole(330, 400);
  const left = 480 - width / 2 + random.whole(-60, 60);
  const height = 96;
  const ground = 590;
  const box = (i: number): string => {
    const y = ground - 40 - (i + 1) * height;
    const grip = `<rect x="${left + width / 2 - 38}" y="${y + 36}" width="76" height="16" rx="8" fill="#00000030"/>`;
    return `<rect x="${left}" y="${y}" width="${width}" height="${height - 4}" fill="${paint}"/><rect x="${left}" y="${y + height - 12}" width="${width}" height="8" fill="#00000018"/>${grip}`;
  };
  const top = ground - 40 - boxes * height;
  const grass = Array.from({ length: 70 }, () => {
    const x = random.whole(0, 960);
    const y = random.whole(ground + 20, 720);
    return `<path d="M${x} ${y} q${random.whole(-8, 8)} -22 ${random.whole(-14, 14)} -${random.whole(26, 52)}" stroke="#6d7f4f" stroke-width="3" fill="none"/>`;
  });
  const bees = Array.from({ length: random.whole(4, 12) }, () => {
    const [x, y] = [random.whole(left - 120, left + width + 120), random.whole(top - 60, ground - 60)];
    return `<ellipse cx="${x}" cy="${y}" rx="9" ry="6" fill="#3a2c12"/><ellipse cx="${x + 3}" cy="${y - 6}" rx="7" ry="4" fill="#ffffffb0"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="960" height="720" viewBox="0 0 960 720">
<rect width="960" height="720" fill="${random.pick(skies)}"/>
<path d="M0 ${random.whole(330, 420)} Q 240 ${random.whole(260, 380)} 480 ${random.whole(340, 420)} T 960 ${random.whole(330, 420)} V 720 H 0 Z" fill="#a9b894"/>
<rect y="${ground}" width="960" height="${720 - ground}" fill="#869a63"/>
<rect x="${left + 30}" y="${ground - 18}" width="24" height="52" fill="#6b5a3e"/><rect x="${left + width - 54}" y="${ground - 18}" width="24" height="52" fill="#6b5a3e"/>
${Array.from({ length: boxes }, (_, i) => box(i)).join('')}
<rect x="${left - 14}" y="${top - 22}" width="${width + 28}" height="26" fill="#b9b2a3"/>
<rect x="${left - 10}" y="${ground - 44}" width="${width + 20}" height="26" fill="#8a7551"/>
<rect x="${left + width / 2 - 90}" y="${ground - 48}" width="180" height="12" fill="#3a2c12"/>
${grass.join('')}${bees.join('')}
</svg>`;
}
