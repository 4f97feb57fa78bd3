import { samplesOfStrike } from '../../core/engine/offline/resolve';
import type { AudioHost } from '../../host/audioHost';
import type { Performance } from '../../host/performance';
import type { PlayingIn } from './playingIn';
import type { Programs } from './programs';
import type { SampleFetcher } from './sampleFetcher';

const EARLY_MS = 4000;
/** How long held notes wait for the samples of another sound. */
const RESTRIKE_MS = 4000;
/** How long another program may be on its way. */
const CHANGE_MS = 1500;
const TAP_MS = 350;
const LOOK_MS = 20;

type Engine = Pick<AudioHost, 'earlyStrikes' | 'sendEarly'>;
type Samples = Pick<SampleFetcher, 'awaited' | 'isSettled' | 'loading'>;

/** What is played as soon as its samples are there. */
export class Waiting {
  private looking: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly engine: Engine,
    private readonly samples: Samples,
    private readonly playing: Pick<Programs, 'program'>,
    private readonly hands: Pick<Performance, 'held'>,
    private readonly input: Pick<PlayingIn, 'play' | 'playNow'>,
  ) {}

  /** Strikes made before sound had begun are heard as soon as what they need is there. */
  async playEarly(): Promise<void> {
    const until = performance.now() + EARLY_MS;
    const comes = () => [...this.samples.awaited].some((key) => !this.samples.isSettled(key));
    do {
      const { program } = this.playing;
      this.samples.awaited = new Set(
        this.engine.earlyStrikes.flatMap(({ key, velocity }) =>
          program ? samplesOfStrike(program, key, velocity) : [],
        ),
      );
      await new Promise((resolve) => setTimeout(resolve, 5));
    } while (comes() && performance.now() < until);
    this.samples.awaited = new Set();
    this.engine.sendEarly();
  }

  /**
   * The notes that are held begin again in a layer (`goesOn`: go on with what was changed), as soon as its samples are
   * there.
   */
  restrike(layerId: string, goesOn = false): void {
    this.whenReady(() => {
      if (this.hands.held.size > 0) this.input.playNow({ type: 'restrike', layerId, goesOn });
    });
  }

  /** A key is struck for a moment, as soon as what it plays is there. */
  tap(key: number): void {
    this.whenReady(() => {
      this.input.play({ type: 'noteOn', channel: 1, key, velocity: 100 });
      setTimeout(() => this.input.play({ type: 'noteOff', channel: 1, key, velocity: 64 }), TAP_MS);
    });
  }

  /**
   * Does something once another program plays than now, and its samples are there. An edit that changes nothing that
   * sounds is not waited for.
   */
  afterChange(act: () => void): void {
    const { program } = this.playing;
    const until = performance.now() + CHANGE_MS;
    this.whenReady(act, () => this.playing.program !== program || performance.now() >= until);
  }

  /** What is asked for last is done once samples are there; those that never come are not waited for. */
  private whenReady(act: () => void, hasCome = () => true): void {
    clearInterval(this.looking);
    const until = performance.now() + RESTRIKE_MS;
    this.looking = setInterval(() => {
      if (!hasCome() || (this.samples.loading > 0 && performance.now() < until)) return;
      clearInterval(this.looking);
      act();
    }, LOOK_MS);
  }
}
