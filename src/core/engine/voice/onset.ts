import { ONSET, ONSET_TIME } from '../program/strikeValues';

/** A note that begins louder or softer than it goes on: back to its own level in a straight line of dB. */
export class Onset {
  /** Seconds left, and the factor now. */
  readonly state = Float64Array.of(0, 1);

  begin(strikeValues: Float64Array): void {
    this.state[0] = strikeValues[ONSET] === 0 ? 0 : strikeValues[ONSET_TIME];
    this.state[1] = strikeValues[ONSET] === 0 ? 1 : 10 ** (strikeValues[ONSET] / 20);
  }

  /** It is over: the note has its own level. */
  end(): void {
    this.state[0] = 0;
    this.state[1] = 1;
  }

  /** Only while it has seconds left. */
  advance(strikeValues: Float64Array, frames: number, rate: number): void {
    const { state } = this;
    state[0] -= frames / rate;
    state[1] = state[0] > 0 ? 10 ** ((strikeValues[ONSET] * state[0]) / strikeValues[ONSET_TIME] / 20) : 1;
  }
}
