/** A span of velocities 1…127, both ends inside. */
export interface VelocityRange {
  low: number;
  high: number;
}

/**
 * All velocities shared out evenly over `count` (1…127) neighbours, soft to hard, with no gap and no overlap: for 16,
 * 1–7, 8–15, 16–23 … 120–127
 * (common practice, no published source).
 */
export function shareOut(count: number): VelocityRange[] {
  if (!Number.isInteger(count) || count < 1 || count > 127)
    throw new RangeError(`${count} ranges: velocities can be shared out over 1 to 127`);
  return Array.from({ length: count }, (_, i) => ({
    low: Math.floor((i * 127) / count) + 1,
    high: Math.floor(((i + 1) * 127) / count),
  }));
}

/**
 * Typed ranges such as `1–39, 40–79, 80–127`, or their upper ends alone (`39, 79, 127`). Gives what is wrong as a text.
 */
export function parseRanges(text: string): VelocityRange[] | string {
  const pieces = text
    .split(/[,;]/)
    .map((piece) => piece.trim())
    .filter((piece) => piece !== '');
  if (pieces.length === 0) return 'type ranges such as 1–39, 40–79, 80–127';
  const ranges: VelocityRange[] = [];
  for (const piece of pieces) {
    const match = /^(?:(\d{1,3})\s*(?:-|–|—|…|\.\.+|to)\s*)?(\d{1,3})$/.exec(piece);
    if (!match) return `“${piece}” is no range such as 40–79`;
    const high = Number(match[2]);
    const low =
      match[1] === undefined ? (ranges.length === 0 ? 1 : ranges[ranges.length - 1].high + 1) : Number(match[1]);
    if (low < 1 || high > 127) return `“${piece}” leaves the velocities 1 to 127`;
    if (low > high) return `“${piece}” is upside down`;
    ranges.push({ low, high });
  }
  return ranges;
}

/** What stands between ranges in order: velocities that nobody or more than one of them has, in words. */
export function gapsAndOverlaps(ranges: readonly VelocityRange[]): string[] {
  const found: string[] = [];
  const sorted = [...ranges].sort((a, b) => a.low - b.low);
  const name = (low: number, high: number) => (low === high ? `${low}` : `${low}–${high}`);
  if (sorted.length > 0 && sorted[0].low > 1) found.push(`velocities ${name(1, sorted[0].low - 1)} are silent`);
  for (let i = 1; i < sorted.length; i++) {
    const { high } = sorted[i - 1];
    const { low } = sorted[i];
    if (low > high + 1) found.push(`velocities ${name(high + 1, low - 1)} are silent`);
    if (low <= high) found.push(`velocities ${name(low, Math.min(high, sorted[i].high))} sound twice`);
  }
  if (sorted.length > 0 && sorted[sorted.length - 1].high < 127)
    found.push(`velocities ${name(sorted[sorted.length - 1].high + 1, 127)} are silent`);
  return found;
}

/** Whether ranges follow one another from the softest to the hardest velocity. */
export function areAllVelocities(ranges: readonly VelocityRange[]): boolean {
  const sorted = [...ranges].sort((a, b) => a.low - b.low);
  return (
    sorted.length > 1 &&
    sorted[0].low <= 1 &&
    sorted[sorted.length - 1].high === 127 &&
    sorted.every(({ low }, i) => i === 0 || low === sorted[i - 1].high + 1)
  );
}

export interface SoftRange extends VelocityRange {
  fadeIn: number;
  fadeOut: number;
}

/**
 * Neighbouring ranges, soft to hard, with `steps` velocities around each border that sound both at constant power (with
 * the sine shape). A range narrower than that has
 * as many as fit.
 */
export function withSoftEdges(ranges: readonly VelocityRange[], steps: number): SoftRange[] {
  const out: SoftRange[] = ranges.map((range) => ({ ...range, fadeIn: 0, fadeOut: 0 }));
  for (let i = 1; i < out.length; i++) {
    const below = ranges[i - 1];
    const above = ranges[i];
    const span = Math.min(Math.max(0, Math.round(steps)), below.high - below.low, above.high - above.low);
    if (span === 0 || above.low !== below.high + 1) continue;
    // The gain is 0 at both ends of the overlap, so one step more than the velocities that sound both.
    const from = below.high - Math.floor(span / 2);
    const to = from + span + 1;
    out[i - 1] = { ...out[i - 1], high: Math.min(127, to), fadeOut: to - from };
    out[i] = { ...out[i], low: Math.max(1, from), fadeIn: to - from };
  }
  return out;
}
