/** How large an expression and what it computes may be. No expression of a person comes near; hostile ones end here. */
export const mostNodes = 600;
export const mostDepth = 250;
/** How many parts an expression may come to when the formulas it names are written out in it, as SQL has them. */
export const mostInlined = 3000;
/** Numbers of more digits than this could go beyond what the database computes with. */
export const mostDigits = 800;
export const digitsOfColumn = 40;
/** Powers end at 10^300; everything else that a function gives is shorter. */
export const digitsOfResult = 340;
/** How many numbers a `for` can go through. */
export const longestSeries = 10_000;
/** How many parts may be computed for one value in memory, repeats counted. */
export const mostSteps = 2_000_000;
