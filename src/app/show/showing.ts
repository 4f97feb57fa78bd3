import type { Hear } from '../../core/check/finding';
import { session } from '../sound/session';
import { store } from '../document/store';

const APART_MS = 620,
  HELD_MS = 540,
  TOGETHER_MS = 1400;

/**
 * Plays exactly the strikes that show a finding, with its layers alone and sources where they must stand, and puts
 * everything back.
 */
class Showing {
  private ends: (() => void)[] = [];
  private timers: number[] = [];
  /** Goes up with everything that is asked for, so that what was given up begins no more. */
  private asked = 0;
  playing = false;
  private readonly listeners = new Set<() => void>();

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private tell(): void {
    for (const listener of this.listeners) listener();
  }

  stop(): void {
    this.asked++;
    for (const timer of this.timers.splice(0)) clearTimeout(timer);
    for (const end of this.ends.splice(0)) end();
    this.playing = false;
    this.tell();
  }

  /**
   * Plays what makes a finding heard. `changed`: what is in view is exchanged with this, and is played once it sounds and its
   * samples are there, however long that takes the machine.
   */
  play(hear: Hear, when: 'now' | 'changed' = 'now'): void {
    this.stop();
    this.playing = true;
    const mine = this.asked;
    if (when === 'now') return this.begin(hear);
    session.waiting.afterChange(() => {
      if (mine === this.asked) this.begin(hear);
    });
    this.tell();
  }

  private begin({ strikes, together, set, alone }: Hear): void {
    const later = (ms: number, act: () => void) => this.timers.push(window.setTimeout(act, ms));
    if (alone && alone.length > 0) {
      session.ears.setSoloed(alone);
      this.ends.push(() => session.ears.setSoloed(store.getState().listening.soloed));
    }
    for (const [source, value] of Object.entries(set ?? {})) this.ends.push(move(source, value));
    const strike = ({ key, velocity }: Hear['strikes'][number], at: number, length: number) => {
      const lift = () => session.play({ type: 'noteOff', channel: 1, key, velocity: 64 });
      later(at, () => {
        session.play({ type: 'noteOn', channel: 1, key, velocity });
        this.ends.push(lift);
      });
      later(at + length, () => {
        lift();
        this.ends = this.ends.filter((end) => end !== lift);
      });
    };
    if (together) for (const each of strikes) strike(each, 0, TOGETHER_MS);
    else strikes.forEach((each, n) => strike(each, n * APART_MS, HELD_MS));
    later((together ? TOGETHER_MS : strikes.length * APART_MS) + 150, () => this.stop());
    this.tell();
  }
}

/** Moves a source, and gives what puts it back. */
function move(source: string, value: number): () => void {
  const [kind, index] = source.split('.');
  const n = Number(index);
  const { controllers } = session.hands;
  if (kind === 'cc') {
    const before = controllers.cc[n];
    session.play({ type: 'controller', channel: 1, controller: n, value });
    return () => session.play({ type: 'controller', channel: 1, controller: n, value: before });
  }
  if (kind === 'bend') {
    session.play({ type: 'bend', channel: 1, bend: value });
    return () => session.play({ type: 'bend', channel: 1, bend: 0 });
  }
  if (kind === 'macro' || kind === 'xy') {
    const before = session.liveOf(kind === 'xy' ? source : `macro.${n}`);
    session.moveLive(source, value);
    return () => {
      if (before !== undefined) session.moveLive(source, before);
    };
  }
  return () => undefined;
}

export const showing = new Showing();
