let pen: CanvasRenderingContext2D | null = null;

/** How wide a text is in the letters of the page, in pixels. @param size of the letters, in pixels */
export function textWidth(text: string, size: number): number {
  pen ??= document.createElement('canvas').getContext('2d');
  if (pen === null) return text.length * size * 0.6;
  pen.font = `${size}px ${getComputedStyle(document.body).fontFamily}`;
  return Math.ceil(pen.measureText(text).width);
}
