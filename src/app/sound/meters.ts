import { MOST_READINGS } from '../../core/effects';
import { ANSWERS } from '../../core/engine/program/tick';
import type { AudioHost } from '../../host/audioHost';
import {
  GRAIN_NUMBERS,
  METER,
  METERED_CONNECTIONS,
  METERED_EFFECTS,
  METERED_GRAINS,
  METERED_LAYERS,
  METERED_PLACES,
} from '../../host/protocol';
import type { Programs } from './programs';

type Engine = Pick<AudioHost, 'meters' | 'state'>;
type Playing = Pick<Programs, 'program' | 'serial'>;

/** What the engine tells of itself, by the names the page has for it. */
export class Meters {
  /** The program whose answers were read last, and how many of them. */
  private answersOf = -1;
  private answersSeen = 0;

  constructor(
    private readonly engine: Engine,
    private readonly playing: Playing,
  ) {}

  /** Whether what the engine reports is about the program that the page shows. */
  get isPresent(): boolean {
    return this.engine.meters[METER.program] === this.playing.serial && this.engine.state === 'running';
  }

  /** The number of one of `most` things, by its place among them; `none` where it is not known. */
  private read(place: number, most: number, none: number, of: (meters: Float32Array) => number): number {
    return place < 0 || place >= most || !this.isPresent ? none : of(this.engine.meters);
  }

  private placeOf(id: string): number {
    return this.playing.program?.mix.places.findIndex((place) => place.id === id) ?? -1;
  }

  /** The louder side of a place of the mix, as a gain; 0 where nothing is known. */
  levelOfPlace(id: string): number {
    const at = this.placeOf(id);
    return this.read(at, METERED_PLACES, 0, (meters) =>
      Math.max(meters[METER.places + 2 * at], meters[METER.places + 2 * at + 1]),
    );
  }

  /** Loudness of a place now, in LUFS; −∞ where nothing is known. */
  loudnessOfPlace(id: string): number {
    const at = this.placeOf(id);
    return this.read(
      at,
      METERED_PLACES,
      -Infinity,
      (meters) => -0.691 + 10 * Math.log10(meters[METER.powers + at] + 1e-12),
    );
  }

  /** What flows through a connection, as a gain; 0 where nothing is known. */
  levelOfConnection(id: string): number {
    const at = this.playing.program?.mix.connections.findIndex((connection) => connection.id === id) ?? -1;
    return this.read(at, METERED_CONNECTIONS, 0, (meters) => meters[METER.connections + at]);
  }

  /** What an effect tells of itself, by its number among its readings; 0 where nothing is known. */
  readingOf(effectId: string, n = 0): number {
    const effects = this.playing.program?.mix.places.flatMap((place) => place.effects) ?? [];
    const at = effects.findIndex(({ id }) => id === effectId);
    return this.read(at, METERED_EFFECTS, 0, (meters) => meters[METER.effects + MOST_READINGS * at + n]);
  }

  /** The step at which the arpeggio of a layer is; −1: it does not run. */
  stepOf(layerId: string): number {
    const at = this.playing.program?.layers.findIndex((layer) => layer.id === layerId) ?? -1;
    return this.read(at, METERED_LAYERS, -1, (meters) => meters[METER.steps + at]);
  }

  /** Seed of the chances of the last strike. */
  strikeSeed(): number {
    return this.engine.meters[METER.strikeSeed] ?? 0;
  }

  /** The grains that sound: see `Readings.readGrains`. */
  grains(): { count: number; numbers: Float32Array } {
    const { meters } = this.engine;
    return {
      count: meters[METER.grainCount] ?? 0,
      numbers: meters.subarray(METER.grains, METER.grains + METERED_GRAINS * GRAIN_NUMBERS),
    };
  }

  /**
   * The zones that answered since the last time this was asked: sound, and place in it. Nothing while the audio thread
   * has yet to take up the newest program.
   */
  takeAnswers(): { soundId: string; zone: number }[] {
    const { meters } = this.engine;
    const { program, serial } = this.playing;
    if (!program || meters[METER.program] !== serial) return [];
    const count = meters[METER.answerCount];
    // They are counted anew with each program, and by each engine.
    if (this.answersOf !== serial || count < this.answersSeen) this.answersSeen = 0;
    this.answersOf = serial;
    const fresh = Math.min(ANSWERS, count - this.answersSeen);
    this.answersSeen = count;
    const { sounds } = program;
    return Array.from({ length: sounds.length === 0 ? 0 : fresh }, (_, i) => {
      const place = meters[METER.answers + ((count - fresh + i) % ANSWERS)];
      let s = sounds.length - 1;
      while (s > 0 && sounds[s].first > place) s--;
      return { soundId: sounds[s].soundId, zone: place - sounds[s].first };
    });
  }
}
