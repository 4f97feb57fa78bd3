import { LEFTS, NEXT_LEFTS, NEXT_RIGHTS, RIGHTS } from '../../../dsp/kernel/synthLayout';

/** Places in what is wanted of a part: loudness of each voice of its unison, place and spread; then spans it stood. */
const LOUD = 0,
  PAN = 1,
  SPREAD = 2,
  STOOD = 3,
  KEPT = 4;

/** Gains of an oscillator's voices of unison, in a straight line from where they stand to where they go. */
export class PartGains {
  /**
   * Loudness of each voice, place −1…1 and spread 0…1 for the next {@link update}: fractions that were handed over would
   * be put on the heap.
   */
  readonly wanted = new Float64Array(3);
  private readonly kept: Float64Array;

  /** `floats`: the kernel's memory; `parts`: as many oscillators as a voice has. */
  constructor(
    private readonly floats: Float32Array,
    parts: number,
  ) {
    this.kept = new Float64Array(KEPT * parts);
  }

  /**
   * Writes what is {@link wanted} for the next span, of part `n`, whose block begins at element `at`; `first`: it stands
   * at once. Gains that stood for a span already are where they go: nothing is written. Gives whether any is heard.
   */
  update(n: number, at: number, unison: number, mono: boolean, first: boolean): boolean {
    const stood = this.stands(KEPT * n, first);
    const { floats } = this;
    let heard = false;
    for (let u = 0; u < unison; u++) {
      const l = at + (LEFTS >> 2) + u,
        r = at + (RIGHTS >> 2) + u;
      if (stood <= 1) {
        floats[l] = floats[at + (NEXT_LEFTS >> 2) + u];
        floats[r] = floats[at + (NEXT_RIGHTS >> 2) + u];
      }
      if (stood === 0) this.aim(at, u, unison, mono, first);
      heard ||= floats[l] !== 0 || floats[r] !== 0;
    }
    return heard;
  }

  /** For how many spans what is wanted has been so. */
  private stands(k: number, first: boolean): number {
    const { kept, wanted } = this;
    let same = !first;
    for (let i = LOUD; i <= SPREAD; i++) {
      if (kept[k + i] !== wanted[i]) same = false;
      kept[k + i] = wanted[i];
    }
    kept[k + STOOD] = same ? kept[k + STOOD] + 1 : 0;
    return kept[k + STOOD];
  }

  private aim(at: number, u: number, unison: number, mono: boolean, first: boolean): void {
    const { floats, wanted } = this;
    const nl = at + (NEXT_LEFTS >> 2) + u,
      nr = at + (NEXT_RIGHTS >> 2) + u;
    const aside = wanted[PAN] + (unison > 1 ? (2 * (u / (unison - 1)) - 1) * wanted[SPREAD] : 0);
    const place = aside < -1 ? -1 : aside > 1 ? 1 : aside;
    floats[nl] = mono ? wanted[LOUD] : wanted[LOUD] * Math.cos((Math.PI / 4) * (place + 1));
    floats[nr] = mono ? 0 : wanted[LOUD] * Math.sin((Math.PI / 4) * (place + 1));
    if (!first) return;
    floats[at + (LEFTS >> 2) + u] = floats[nl];
    floats[at + (RIGHTS >> 2) + u] = floats[nr];
  }
}
