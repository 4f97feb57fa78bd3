import { runBiquad, SECTION } from '../../effects/biquad';
import { kWeighting } from '../../measure/loudness';
import { RUN } from '../program/tick';
import type { MixLayout } from './layout';
import type { PlaceState } from './places';

/** What a mix tells of itself, for pictures: levels, loudness, readings of effects. */
export class MixMeters {
  /** What comes out of a place is looked at by somebody, so that each must be made apart. */
  isLookedInto = false;

  constructor(
    private readonly layout: MixLayout,
    private readonly rate: number,
  ) {
    this.weights = kWeighting(rate);
  }

  /**
   * Levels for pictures: both sides of each place of the program, in its order, then each connection's; what was read
   * begins anew.
   */
  readLevels(
    into: Float32Array,
    placesAt: number,
    mostPlaces: number,
    connectionsAt: number,
    mostConnections: number,
  ): void {
    const gone = this.layout.places.length - this.layout.compiled.places.length;
    for (let p = 0; p < mostPlaces; p++) {
      const place = p < this.layout.compiled.places.length ? this.layout.places[gone + p] : undefined;
      into[placesAt + 2 * p] = Math.max(place ? place.peakLeft : 0, into[placesAt + 2 * p]);
      into[placesAt + 2 * p + 1] = Math.max(place ? place.peakRight : 0, into[placesAt + 2 * p + 1]);
      if (place) place.peakLeft = place.peakRight = 0;
    }
    const before = this.layout.connections.length - this.layout.compiled.connections.length;
    for (let c = 0; c < mostConnections; c++) {
      const connection = c < this.layout.compiled.connections.length ? this.layout.connections[before + c] : undefined;
      into[connectionsAt + c] = Math.max(connection ? connection.peak : 0, into[connectionsAt + c]);
      if (connection) connection.peak = 0;
    }
  }

  /** Mean power of each place of the program over 0.4 s, weighted as BS.1770 has it; only while somebody looks. */
  readPowers(into: Float32Array, at: number, most: number): void {
    const gone = this.layout.places.length - this.layout.compiled.places.length;
    for (let p = 0; p < most; p++)
      into[at + p] =
        this.isLookedInto && p < this.layout.compiled.places.length ? this.layout.places[gone + p].power[0] : 0;
  }

  weigh(place: PlaceState, total: number): void {
    const { weighing, power, outLeft, outRight } = place;
    if (!place.sounds && power[0] === 0) return;
    let sum = 0;
    for (let side = 0; side < 2; side++) {
      const buffer = side === 0 ? outLeft : outRight;
      for (let i = 0; i < total; i++) this.weighed[i] = place.sounds ? buffer[i] : 0;
      runBiquad(this.weights, 0, weighing, side * 4, this.weighed, 0, total);
      runBiquad(this.weights, SECTION, weighing, side * 4 + 2, this.weighed, 0, total);
      for (let i = 0; i < total; i++) sum += this.weighed[i] * this.weighed[i];
    }
    power[0] += (sum / total - power[0]) * (1 - Math.exp(-total / (0.2 * this.rate)));
    if (power[0] < 1e-12) power[0] = 0;
  }
  private readonly weighed = new Float32Array(RUN);
  private readonly weights: Float64Array;

  /** What effects tell of themselves, in the order of the program, `stride` numbers each. */
  readEffects(into: Float32Array, at: number, most: number, stride: number): void {
    const gone = this.layout.places.length - this.layout.compiled.places.length;
    let n = 0;
    for (let p = 0; p < this.layout.compiled.places.length; p++) {
      const { effects } = this.layout.compiled.places[p];
      for (let e = 0; e < effects.length && n < most; e++, n++) {
        const { slots, next } = this.layout.places[gone + p];
        const readings = next || e >= slots.length ? undefined : slots[e].effect.readings;
        for (let k = 0; k < stride; k++)
          into[at + n * stride + k] = readings && k < readings.length && slots[e].isAwake ? readings[k] : 0;
      }
    }
  }
}
