/** A tone that grows at one place for so long is feedback; by so many dB, and above what else there is by as many. */
const LASTS_MS = 300,
  RISES_DB = 3,
  STANDS_OUT_DB = 18,
  LOUD_DB = -40;
/** It may sink by this between two looks, and wander by so many bins. Common practice, no source, as all of these. */
const SINKS_DB = 1,
  WANDERS = 1,
  NEAR = 4;

interface Look {
  at: number;
  bin: number;
  db: number;
}

/** Looks at spectra one after another, and notices feedback: the level at one frequency that rises and rises. */
export class FeedbackWatch {
  private looks: Look[] = [];

  /**
   * A spectrum in dB by bin, at a time in ms. Gives the bin at which it feeds back; undefined: it does not.
   */
  look(spectrum: ArrayLike<number>, at: number): number | undefined {
    let bin = 1;
    for (let k = 2; k < spectrum.length; k++) if (spectrum[k] > spectrum[bin]) bin = k;
    const db = spectrum[bin];
    const last = this.looks[this.looks.length - 1] as Look | undefined;
    const goesOn =
      db > LOUD_DB &&
      standsOut(spectrum, bin) &&
      (!last || (Math.abs(bin - last.bin) <= WANDERS && db > last.db - SINKS_DB && at - last.at < LASTS_MS));
    if (!goesOn) {
      this.looks = [];
      return undefined;
    }
    this.looks.push({ at, bin, db });
    while (this.looks.length > 2 && at - this.looks[1].at >= LASTS_MS) this.looks.shift();
    const [first] = this.looks;
    return at - first.at >= LASTS_MS && db - first.db >= RISES_DB ? bin : undefined;
  }

  forget(): void {
    this.looks = [];
  }
}

/** Whether nothing but its neighbours comes near a bin: a voice, and an instrument, has harmonics. */
function standsOut(spectrum: ArrayLike<number>, bin: number): boolean {
  for (let k = 1; k < spectrum.length; k++)
    if (Math.abs(k - bin) > NEAR && spectrum[k] > spectrum[bin] - STANDS_OUT_DB) return false;
  return true;
}
