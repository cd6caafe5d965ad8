/** Work in pieces of a few milliseconds: a server answers others in between. */
export type Pieces<T> = Generator<undefined, T>;

/** Does all of it at once. */
export function atOnce<T>(work: Pieces<T>): T {
  for (;;) {
    const piece = work.next();
    if (piece.done === true) return piece.value;
  }
}

/** So many parts of a design are looked at in one piece. */
export const pieceOfParts = 8;
