import type { EngineEvent } from '../core/engine/event';
import type { Take } from '../core/formats/midiFile';

const AHEAD_SECONDS = 0.12;
const EVERY_MS = 30;

/** Plays a take, once or round and round, a little ahead of the audio clock, so that every event falls on its own frame. */
export class TakePlayer {
  playing = false;
  looped = true;
  take: Take | null = null;
  private begin = 0;
  private next = 0;
  private timer: ReturnType<typeof setInterval> | undefined;
  private readonly held = new Map<string, EngineEvent>();
  private readonly moved = new Set<number>();
  private readonly shown = new Set<ReturnType<typeof setTimeout>>();
  private readonly listeners = new Set<() => void>();

  /** `send` takes an event for a time of the clock; `show` tells the interface when that time has come. */
  constructor(private readonly clock: () => number, private readonly send: (event: EngineEvent, time?: number) => void, private readonly show: (event: EngineEvent) => void) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  load(take: Take): void {
    const wasPlaying = this.playing;
    this.stop();
    this.take = take;
    if (wasPlaying) this.play();
    this.tell();
  }

  play(): void {
    if (!this.take || this.playing) return;
    this.playing = true;
    this.begin = this.clock() + 0.05;
    this.next = 0;
    this.timer = setInterval(() => this.schedule(), EVERY_MS);
    this.schedule();
    this.tell();
  }

  /** Stops, lets go of every key it holds and puts back the controllers it moved. */
  stop(): void {
    if (!this.playing) return;
    this.playing = false;
    clearInterval(this.timer);
    for (const waiting of this.shown) clearTimeout(waiting);
    this.shown.clear();
    const now = this.clock() + AHEAD_SECONDS;
    for (const event of this.held.values()) this.put({ type: 'noteOff', channel: 'channel' in event ? event.channel : 1, key: 'key' in event ? event.key : 0, velocity: 64 }, now);
    if (this.moved.size > 0) this.put({ type: 'controller', channel: 1, controller: 121, value: 0 }, now);
    this.held.clear();
    this.moved.clear();
    this.tell();
  }

  setLooped(looped: boolean): void {
    this.looped = looped;
    this.tell();
  }

  /** Seconds into the take. */
  get position(): number {
    return this.playing && this.take ? Math.min(this.take.seconds, Math.max(0, this.clock() - this.begin)) : 0;
  }

  private schedule(): void {
    const { take } = this;
    if (!take) return;
    const until = this.clock() + AHEAD_SECONDS;
    for (;;) {
      if (this.next >= take.events.length) {
        if (this.begin + take.seconds > until) return;
        if (!this.looped || take.seconds === 0) {
          if (this.clock() >= this.begin + take.seconds) this.stop();
          return;
        }
        this.begin += take.seconds;
        this.next = 0;
      }
      const { at, event } = take.events[this.next];
      if (this.begin + at > until) return;
      this.next++;
      this.put(event, this.begin + at);
      if (event.type === 'noteOn') this.held.set(`${event.channel} ${event.key}`, event);
      else if (event.type === 'noteOff') this.held.delete(`${event.channel} ${event.key}`);
      else if (event.type === 'controller') this.moved.add(event.controller);
    }
  }

  private put(event: EngineEvent, time: number): void {
    this.send(event, time);
    const waiting = setTimeout(() => {
      this.shown.delete(waiting);
      this.show(event);
    }, Math.max(0, (time - this.clock()) * 1000));
    this.shown.add(waiting);
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}
