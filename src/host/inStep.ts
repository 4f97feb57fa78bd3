import type { AudioHost, Way } from './audioHost';
import { OWN, type ToEngine } from './protocol';
import { StepReader } from './stepLog';

/**
 * The engine of this machine and that of another, in step: what this one was told, block by block, for one that follows it;
 * or what the other was told, in place of what this page says. Stands in the way between the page and the engine, so that
 * no part of the page has to know.
 */
export class InStep implements Way {
  /** What the engine has done; null where memory cannot be shared, or before one has begun. */
  steps: StepReader | null = null;
  /** Called when an engine begins, before it is told anything, and with each message and its number from there. */
  onBegun: () => void = () => undefined;
  onSaid: (n: number, message: ToEngine) => void = () => undefined;
  private said = 0;
  private told: { at: number; ahead: number } | null = null;

  constructor(private readonly audio: AudioHost) {
    audio.way = this;
  }

  begins(log: SharedArrayBuffer | null): void {
    this.steps = log && new StepReader(log);
    this.said = 0;
    this.onBegun();
  }

  pass(message: ToEngine): ToEngine | null {
    const { told } = this;
    // Of its own page an engine that follows hears nothing but what is of this machine.
    if (this.audio.follows && !told && !OWN.has(message.type)) return null;
    this.onSaid(this.said++, message);
    return told ? { type: 'told', ...told, message } : message;
  }

  /** The engine is mute at once and lets go of everything, another leads; {@link follow} begins one that plays along. */
  hush(): void {
    const { audio } = this;
    if (audio.follows) return;
    audio.say({ type: 'hush' });
    audio.say({ type: 'event', event: { type: 'panic' } });
    audio.follows = true;
  }

  /** Begins an engine that follows another of the same rate (Hz), muted. */
  async follow(rate: number): Promise<void> {
    this.audio.follows = true;
    await this.audio.beginAnew(rate);
  }

  /** What is said while `act` runs belongs before a block of the engine that is followed, an event so many frames ahead. */
  asTold(at: number, ahead: number, act: () => void): void {
    this.told = { at, ahead };
    try {
      act();
    } finally {
      this.told = null;
    }
  }

  /** Where pairs go in the engine that leads. */
  outputsAre(map: readonly number[]): void {
    this.audio.say({ type: 'outputs', map, click: -1 });
  }

  /** The engine that follows knows all that belongs to blocks before this one. */
  knowsUpTo(blocks: number): void {
    this.audio.say({ type: 'upTo', blocks });
  }

  /** The engine that followed is heard from now on, and goes on by its own clock. */
  lead(): void {
    this.audio.say({ type: 'lead' });
    this.audio.follows = false;
    this.audio.sayWhereTo();
  }
}
