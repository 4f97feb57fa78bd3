/**
 * Functions of values that move all the time, on elements of arrays (a fraction handed to a function, or given by one,
 * may be put on the heap): fast enough for hundreds of voices, and nearer to the truth than any ear. What stands still,
 * or moves with an event, is worked out exactly.
 */
const OCTAVES = Float64Array.from({ length: 64 }, (_, i) => 2 ** (i - 32));

/**
 * 2^x for x within ± 31: whole octaves from a table, the rest by six terms of its series around the middle of an
 * octave; the relative error is below 10⁻⁶.
 */
export function exp2(values: Float64Array, at: number): void {
  const x = values[at];
  const whole = Math.floor(x);
  const t = (x - whole - 0.5) * Math.LN2;
  values[at] =
    OCTAVES[whole + 32] * Math.SQRT2 * (1 + t * (1 + t * (1 / 2 + t * (1 / 6 + t * (1 / 24 + t * (1 / 120))))));
}

/** The sine of a share 0…1 of a right angle, by its series; the error is below 4·10⁻⁶. */
export function quarterSine(values: Float64Array, at: number): void {
  const t = values[at] * (Math.PI / 2);
  const s = t * t;
  values[at] = t * (1 - s * (1 / 6 - s * (1 / 120 - s * (1 / 5040 - s * (1 / 362880)))));
}

const STEPS_PER_SEMITONE = 4;
const HIGHEST_KEY = 120;
const tables = new Map<number, Float64Array>();

/**
 * By distance from 20 Hz in quarters of a semitone: tan(π·f / rate), f at most 0.49 of the rate. For a section's
 * coefficients; made once for a rate.
 */
export function tangentsFor(rate: number): Float64Array {
  let table = tables.get(rate);
  if (!table)
    tables.set(
      rate,
      (table = Float64Array.from({ length: HIGHEST_KEY * STEPS_PER_SEMITONE + 2 }, (_, i) =>
        Math.tan((Math.PI * Math.min(20 * 2 ** (i / STEPS_PER_SEMITONE / 12), 0.49 * rate)) / rate),
      )),
    );
  return table;
}

/**
 * Reads such a table for a distance of 0…120 semitones; up to a quarter of the rate the cutoff is right to within a
 * tenth of a cent.
 */
export function tangentAt(table: Float64Array, values: Float64Array, at: number): void {
  const fine = values[at] * STEPS_PER_SEMITONE;
  const i = fine | 0;
  values[at] = table[i] + (table[i + 1] - table[i]) * (fine - i);
}
