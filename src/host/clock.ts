import type { TimeMessage } from '../core/music/midi';
import type { EngineEvent } from '../core/engine/hands/event';

/** Ticks of MIDI clock in a quarter (MIDI 1.0). */
const TICKS = 24;
const SILENT_MS = 1500;
/** So many ticks are looked at together, at the most; and so many after the tempo has changed. */
const MOST_TICKS = 4 * TICKS,
  FEW_TICKS = TICKS / 2;
/** Where the last few ticks stand so far from the line through all of them on average, the tempo has changed. */
const RECENT = 6,
  ASTRAY_MS = 12;
/** The tempo bends by so much of itself at the most, to come back to where the clock is. */
const MOST_BEND = 0.003;

/**
 * Follows MIDI clock: the tempo is the slope of a straight line through the last ticks (least squares), which takes out
 * most of their jitter; and where the transport has come away from the clock it is
 * led back by a tempo a little off. Position from start, stop, continue and song position.
 */
export class ClockFollower {
  /** Quarters a minute; null: no clock runs. */
  tempo: number | null = null;
  private readonly times: number[] = [];
  private sixteenths = 0;
  private waits: ReturnType<typeof setTimeout> | undefined;
  /** Quarters by the clock, and where the transport must be by what was sent; from the last start on. */
  private ticks = 0;
  private transport = 0;
  private sentAt = 0;
  private sentTempo = 0;
  private runs = false;

  constructor(
    private readonly send: (event: EngineEvent) => void,
    private readonly now: () => number = () => performance.now(),
  ) {}

  take(message: TimeMessage): void {
    switch (message.type) {
      case 'clock':
        this.tick();
        break;
      case 'start':
        this.sixteenths = 0;
        this.begin(0);
        break;
      case 'continue':
        this.begin(this.sixteenths / 4);
        break;
      case 'songPosition':
        this.sixteenths = message.sixteenths;
        break;
      case 'stop':
        this.runs = false;
        break;
    }
  }

  private begin(quarters: number): void {
    this.send({ type: 'position', quarters });
    // The first tick after a start is the beginning itself.
    this.ticks = quarters * TICKS - 1;
    this.transport = quarters;
    this.sentAt = this.now();
    this.runs = true;
  }

  private tick(): void {
    const now = this.now();
    const { times } = this;
    if (times.length > 0 && now - times[times.length - 1] > SILENT_MS) times.length = 0;
    times.push(now);
    if (times.length > MOST_TICKS + 1) times.shift();
    clearTimeout(this.waits);
    this.waits = setTimeout(() => this.lose(), SILENT_MS);
    this.ticks++;
    if (times.length < TICKS + 1) {
      // Soon after a change a few must do.
      if (this.tempo === null || times.length < FEW_TICKS) return;
    }
    const { slope, astray } = lineThrough(times);
    if (astray > ASTRAY_MS && times.length > FEW_TICKS) {
      times.splice(0, times.length - FEW_TICKS);
      return;
    }
    const tempo = 60000 / (slope * TICKS);
    if (!(tempo >= 20 && tempo <= 400)) return;
    // Once in a quarter is often enough, unless it is another tempo.
    const isOther = this.tempo === null || Math.abs(tempo / this.tempo - 1) > 0.004;
    if (!isOther && this.ticks % TICKS !== 0) return;
    this.tempo = Math.round(tempo * 100) / 100;
    this.follow(now);
  }

  /** Sends the tempo, bent towards where the clock is. */
  private follow(now: number): void {
    const { tempo } = this;
    if (tempo === null) return;
    this.transport += ((now - this.sentAt) / 60000) * this.sentTempo;
    this.sentAt = now;
    if (this.runs && this.sentTempo === 0) {
      // Until now the patch's own tempo led.
      this.transport = this.ticks / TICKS;
      this.send({ type: 'position', quarters: this.transport });
    }
    const behind = this.runs ? this.ticks / TICKS - this.transport : 0;
    const bent = Math.round(tempo * (1 + Math.max(-MOST_BEND, Math.min(MOST_BEND, behind / 8))) * 100) / 100;
    if (bent === this.sentTempo) return;
    this.sentTempo = bent;
    this.send({ type: 'tempo', tempo: bent });
  }

  /** The clock fell silent: the patch's own tempo holds again. */
  private lose(): void {
    this.times.length = 0;
    this.runs = false;
    if (this.tempo === null) return;
    this.tempo = null;
    this.sentTempo = 0;
    this.send({ type: 'tempo', tempo: null });
  }
}

/**
 * Milliseconds from one tick to the next by the line of least squares, and how far the last few stand off it on
 * average.
 */
function lineThrough(times: readonly number[]): { slope: number; astray: number } {
  const n = times.length;
  const middle = (n - 1) / 2;
  const mean = times.reduce((sum, t) => sum + t, 0) / n;
  let above = 0;
  let below = 0;
  times.forEach((t, i) => {
    above += (i - middle) * (t - mean);
    below += (i - middle) ** 2;
  });
  const slope = above / below;
  const off =
    times.slice(-RECENT).reduce((sum, t, i, last) => sum + t - (mean + (n - last.length + i - middle) * slope), 0) /
    Math.min(RECENT, n);
  return { slope, astray: Math.abs(off) };
}
