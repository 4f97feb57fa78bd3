import type { EngineEvent } from '../core/engine/hands/event';
import type { Take } from '../core/music/take';

const AHEAD_SECONDS = 0.12;
const EVERY_MS = 30;

/**
 * Plays a take, once or round and round, a little ahead of the audio clock, so that every event falls on its own frame.
 */
export class TakePlayer {
  playing = false;
  looped = true;
  take: Take | null = null;
  private begin = 0;
  private next = 0;
  private timer: ReturnType<typeof setInterval> | undefined;
  private readonly held = new Map<string, { event: EngineEvent; to: number }>();
  /** What brings everything the take has moved back to where it stood before, by what it is. */
  private readonly before = new Map<string, EngineEvent>();
  /** Events that are sent and wait to be shown when their time has come. */
  private readonly toShow = new Map<ReturnType<typeof setTimeout>, EngineEvent>();
  private readonly listeners = new Set<() => void>();

  /**
   * `send` takes an event for a time of the clock; `show` tells the interface when that time has come; `standing` gives
   * what would undo an event now.
   */
  constructor(
    private readonly clock: () => number,
    private readonly send: (event: EngineEvent, time?: number, to?: number) => void,
    private readonly show: (event: EngineEvent) => void,
    private readonly standing: (event: EngineEvent) => EngineEvent[],
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  load(take: Take): void {
    const wasPlaying = this.playing;
    this.end();
    this.take = take;
    if (wasPlaying) this.play();
    this.tell();
  }

  /** The same take, edited or at another tempo: goes on at the same share of it. What is held is let go of. */
  replace(take: Take): void {
    const { take: before } = this;
    if (!this.playing || !before) return this.load(take);
    const now = this.clock();
    for (const waiting of this.toShow.keys()) clearTimeout(waiting);
    this.toShow.clear();
    for (const { event, to } of this.lifts()) {
      this.send(event, now + AHEAD_SECONDS, to);
      if (to === 0) this.show(event);
    }
    const share = before.seconds > 0 ? ((now - this.begin) / before.seconds) % 1 : 0;
    this.take = take;
    this.begin = now - Math.max(0, share) * take.seconds;
    const from = now + AHEAD_SECONDS - this.begin;
    this.next = take.events.findIndex(({ at }) => at >= from);
    if (this.next < 0) this.next = take.events.length;
    this.schedule();
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

  /**
   * Goes on with what another machine has played up to here, in seconds of the take: keys that it has struck and not let go
   * are held, but not struck again.
   */
  goOn(seconds: number, looped: boolean): void {
    const { take } = this;
    if (!take || this.playing || take.seconds <= 0) return;
    const from = looped ? seconds % take.seconds : seconds;
    if (from >= take.seconds) return;
    this.playing = true;
    this.looped = looped;
    this.begin = this.clock() - from;
    this.next = take.events.findIndex(({ at }) => at >= from);
    if (this.next < 0) this.next = take.events.length;
    for (const { event, to = 0 } of take.events.slice(0, this.next)) this.follow(event, to);
    this.timer = setInterval(() => this.schedule(), EVERY_MS);
    this.schedule();
    this.tell();
  }

  /** The keys that the take holds by itself. */
  get holds(): EngineEvent[] {
    return [...this.held.values()].flatMap(({ event, to }) => (to === 0 ? [event] : []));
  }

  /** Remembers which keys are down. */
  private follow(event: EngineEvent, to: number): void {
    if (event.type === 'noteOn') this.held.set(`${to} ${event.channel} ${event.key}`, { event, to });
    else if (event.type === 'noteOff') this.held.delete(`${to} ${event.channel} ${event.key}`);
  }

  /** Stops, lets go of every key it holds and puts everything it moved back to where it was. */
  stop(): void {
    if (!this.playing) return;
    this.end();
    this.tell();
  }

  private end(): void {
    if (!this.playing) return;
    this.playing = false;
    clearInterval(this.timer);
    // A key whose end was sent ahead is not held any more, though that was not shown yet.
    const ended = [...this.toShow.values()].filter((event) => event.type === 'noteOff');
    for (const waiting of this.toShow.keys()) clearTimeout(waiting);
    this.toShow.clear();
    for (const event of ended) this.show(event);
    const now = this.clock() + AHEAD_SECONDS;
    for (const { event, to } of this.undone()) {
      this.send(event, now, to);
      // At once, so that a take that begins right away finds everything in its place.
      if (to === 0) this.show(event);
    }
    this.before.clear();
  }

  /** What lets go of the keys that are held. */
  private lifts(): { event: EngineEvent; to: number }[] {
    const lifted = [...this.held.values()].flatMap(({ event, to }): { event: EngineEvent; to: number }[] =>
      event.type === 'noteOn'
        ? [{ event: { type: 'noteOff', channel: event.channel, key: event.key, velocity: 64 }, to }]
        : [],
    );
    this.held.clear();
    return lifted;
  }

  /** The same, and what puts back everything that was moved. */
  private undone(): { event: EngineEvent; to: number }[] {
    return [...this.lifts(), ...[...this.before.values()].map((event) => ({ event, to: 0 }))];
  }

  setLooped(looped: boolean): void {
    this.looped = looped;
    this.tell();
  }

  /** Called when the take begins anew. */
  onRound: () => void = () => undefined;

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
        for (const { event, to } of this.undone()) this.put(event, this.begin, to);
        this.onRound();
      }
      const { at, event, to = 0 } = take.events[this.next];
      if (this.begin + at > until) return;
      this.next++;
      if (to === 0)
        for (const undoing of this.standing(event))
          if (!this.before.has(nameOf(undoing))) this.before.set(nameOf(undoing), undoing);
      this.put(event, this.begin + at, to);
      this.follow(event, to);
    }
  }

  private put(event: EngineEvent, time: number, to: number): void {
    this.send(event, time, to);
    // What plays along is not of the hands.
    if (to > 0) return;
    const waiting = setTimeout(
      () => {
        this.toShow.delete(waiting);
        this.show(event);
      },
      Math.max(0, (time - this.clock()) * 1000),
    );
    this.toShow.set(waiting, event);
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

/** What an event moves. */
const nameOf = (event: EngineEvent): string =>
  [
    event.type,
    'channel' in event ? event.channel : '',
    'controller' in event ? event.controller : 'key' in event ? event.key : '',
  ].join(' ');
