/** Longer than any that we write ourselves: what comes from a file is cut. */
const LONGEST = 400;
// Control signs, line and paragraph separators, signs that turn the direction of what follows, and halves of letters.
const ODD = /[\p{Cc}\p{Zl}\p{Zp}\p{Cs}\u200e\u200f\u202a-\u202e\u2066-\u2069]+/gu;

/**
 * What is told of something that was refused: where, and what is wrong, in one line. Names and values of a file may hold
 * anything; what would break the line, hide it or turn it round is shown as “�”.
 */
export class LineError extends Error {
  constructor(
    readonly place: string,
    readonly problem: string,
  ) {
    const text = (place ? `${place}: ${problem}` : problem).replace(ODD, '�');
    super(text.length > LONGEST ? `${text.slice(0, LONGEST - 1)}…` : text);
  }
}
