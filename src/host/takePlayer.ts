import type { EngineEvent } from '../core/engine/event';
import type { Take } from '../core/music/take';

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
  /** What brings everything the take has moved back to where it stood before, by what it is. */
  private readonly before = new Map<string, EngineEvent>();
  /** Events that are sent and wait to be shown when their time has come. */
  private readonly toShow = new Map<ReturnType<typeof setTimeout>, EngineEvent>();
  private readonly listeners = new Set<() => void>();

  /** `send` takes an event for a time of the clock; `show` tells the interface when that time has come; `standing` gives what would undo an event now. */
  constructor(
    private readonly clock: () => number, private readonly send: (event: EngineEvent, time?: number) => void, private readonly show: (event: EngineEvent) => void,
    private readonly standing: (event: EngineEvent) => EngineEvent[],
  ) {}

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

  /** Stops, lets go of every key it holds and puts everything it moved back to where it was. */
  stop(): void {
    if (!this.playing) return;
    this.playing = false;
    clearInterval(this.timer);
    // A key whose end was sent ahead is not held any more, though that was not shown yet.
    const ended = [...this.toShow.values()].filter((event) => event.type === 'noteOff');
    for (const waiting of this.toShow.keys()) clearTimeout(waiting);
    this.toShow.clear();
    for (const event of ended) this.show(event);
    const now = this.clock() + AHEAD_SECONDS;
    for (const event of this.undone()) {
      this.send(event, now);
      // At once, so that a take that begins right away finds everything in its place.
      this.show(event);
    }
    this.before.clear();
    this.tell();
  }

  /** What lets go of the keys that are held and puts back what was moved. */
  private undone(): EngineEvent[] {
    const lifted = [...this.held.values()].flatMap((event): EngineEvent[] => (event.type === 'noteOn' ? [{ type: 'noteOff', channel: event.channel, key: event.key, velocity: 64 }] : []));
    this.held.clear();
    return [...lifted, ...this.before.values()];
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
        // Each round begins as the first one did.
        for (const event of this.undone()) this.put(event, this.begin);
      }
      const { at, event } = take.events[this.next];
      if (this.begin + at > until) return;
      this.next++;
      for (const undoing of this.standing(event)) if (!this.before.has(nameOf(undoing))) this.before.set(nameOf(undoing), undoing);
      this.put(event, this.begin + at);
      if (event.type === 'noteOn') this.held.set(`${event.channel} ${event.key}`, event);
      else if (event.type === 'noteOff') this.held.delete(`${event.channel} ${event.key}`);
    }
  }

  private put(event: EngineEvent, time: number): void {
    this.send(event, time);
    const waiting = setTimeout(() => {
      this.toShow.delete(waiting);
      this.show(event);
    }, Math.max(0, (time - this.clock()) * 1000));
    this.toShow.set(waiting, event);
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

/** What an event moves. */
const nameOf = (event: EngineEvent): string => [event.type, 'channel' in event ? event.channel : '', 'controller' in event ? event.controller : 'key' in event ? event.key : ''].join(' ');
