/** What a click is told: see `clickSchema`. `gain` as a factor. */
export interface ClickSound {
  gain: number;
  beats: number;
  subdivision: number;
  wood: boolean;
}

/** Frequencies in Hz of the first beat of a bar, of the other beats, and of what lies between. Common practice, no source. */
const ACCENT_HZ = 1760,
  BEAT_HZ = 1175,
  BETWEEN_HZ = 880;
/** What lies between beats is softer. */
const BETWEEN_GAIN = 0.5;
/** Seconds in which a click falls to 1/e, as a tone and as a knock; and in which it rises, so that it is no spike. */
const TONE_SECONDS = 0.012,
  WOOD_SECONDS = 0.004,
  RISE_SECONDS = 0.0006;
/** A knock has a second partial, as a bar of wood has: 2.76 times the first (bar with free ends, in any handbook). */
const WOOD_PARTIAL = 2.76;
/** A click is over after so many of its times. */
const OVER = 9;

/** A metronome that goes by the transport, frame by frame. Allocates nothing while it plays. */
export class Click {
  private readonly sound: ClickSound = { gain: 0, beats: 4, subdivision: 1, wood: true };
  /** Frames since the click that sounds began; Infinity: none does. */
  private age = Infinity;
  private hz = BEAT_HZ;
  private height = 0;
  /** The tick that was struck last. */
  private last = NaN;

  constructor(private readonly rate: number) {}

  set({ gain, beats, subdivision, wood }: ClickSound): void {
    this.sound.gain = gain;
    this.sound.beats = Math.max(1, Math.round(beats));
    this.sound.subdivision = Math.max(1, Math.round(subdivision));
    this.sound.wood = wood;
  }

  /**
   * Adds what it plays to both channels. `quarters`: where the transport is at the first frame, `perFrame`: how far it
   * goes in each.
   */
  process(left: Float32Array, right: Float32Array, frames: number, quarters: number, perFrame: number): void {
    const { subdivision } = this.sound;
    const ticks = perFrame * subdivision;
    let next = Math.ceil(quarters * subdivision - 1e-6);
    let strikesAt = ticks > 0 && quarters > -1e6 ? (next - quarters * subdivision) / ticks : Infinity;
    for (let i = 0; i < frames; i++) {
      // In the frame in which its moment falls.
      if (i + 1 > strikesAt) {
        this.strike(next);
        next++;
        strikesAt = (next - quarters * subdivision) / ticks;
      }
      if (this.age === Infinity) continue;
      const x = this.make();
      left[i] += x;
      right[i] += x;
    }
  }

  private strike(tick: number): void {
    const { beats, subdivision, gain } = this.sound;
    // Once, where blocks meet.
    if (tick === this.last) return;
    this.last = tick;
    if (tick < 0) return;
    const inBar = tick % (beats * subdivision);
    this.hz = inBar === 0 ? ACCENT_HZ : inBar % subdivision === 0 ? BEAT_HZ : BETWEEN_HZ;
    this.height = gain * (inBar % subdivision === 0 ? 1 : BETWEEN_GAIN);
    this.age = 0;
  }

  private make(): number {
    const { wood } = this.sound;
    const t = this.age / this.rate;
    const falls = wood ? WOOD_SECONDS : TONE_SECONDS;
    this.age = t > OVER * falls ? Infinity : this.age + 1;
    const shape = this.height * Math.exp(-t / falls) * Math.min(1, t / RISE_SECONDS);
    const turn = 2 * Math.PI * this.hz * t;
    return shape * (wood ? 0.7 * Math.sin(turn) + 0.3 * Math.sin(WOOD_PARTIAL * turn) : Math.sin(turn));
  }

  /** Nothing sounds any more. */
  rest(): void {
    this.age = Infinity;
    this.last = NaN;
  }
}
