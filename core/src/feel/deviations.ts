/**
 * Where this language and feelin, the usual interpreter of FEEL in JavaScript, give different answers, and what decides.
 * The test of differences holds the list complete for its samples; the help for builders is made from it.
 */
export interface Deviation {
  readonly expression: string;
  readonly here: string;
  readonly why: string;
  /** The clause of DMN 1.5 that decides, or that leaves it open. */
  readonly clause: string;
}

export const deviations: readonly Deviation[] = [
  { expression: '0.1 + 0.2', here: '0.3', why: 'Numbers are exact decimals, never binary floating point.', clause: '10.3.2.3.1' },
  { expression: '0.1 * 3', here: '0.3', why: 'Numbers are exact decimals, never binary floating point.', clause: '10.3.2.3.1' },
  { expression: '1.005 * 1000', here: '1005', why: 'Numbers are exact decimals, never binary floating point.', clause: '10.3.2.3.1' },
  { expression: '9007199254740993 - 1', here: '9007199254740992', why: 'Numbers have 34 digits, not 16.', clause: '10.3.2.3.1' },
  { expression: '4.35 * 100', here: '435', why: 'Numbers are exact decimals, never binary floating point.', clause: '10.3.2.3.1' },
];
