import { FeedbackWatch } from '../core/measure/feedback';
import { askForInput, closeInput, STAND_IN_INPUT, standIn, type AudioInput } from './audioInputs';

const LOOK_MS = 25,
  BINS = 2048;

export type LiveState = 'muted' | 'asking' | 'open';

/** Where what comes in goes: the engine. */
interface Ears {
  context: AudioContext | null;
  start(): Promise<void>;
  /** What comes in is heard from now on; null: nothing is. */
  hear(source: AudioNode | null): void;
}

/**
 * A voice or a line that comes in while one plays. It begins muted and is opened by hand; where it feeds back it is muted
 * at once, and told.
 */
export class LiveInput {
  state: LiveState = 'muted';
  /** Why it is muted, where that was not by hand. */
  problem = '';
  /** Hz at which it fed back last; 0: it did not. */
  fedBackAt = 0;
  /** The highest sample of the last look. */
  level = 0;
  private device: AudioInput | null = null;
  private stream: MediaStream | null = null;
  private source: AudioNode | null = null;
  private analyser: AnalyserNode | null = null;
  private timer: ReturnType<typeof setInterval> | undefined;
  private readonly watch = new FeedbackWatch();
  /** Counts openings and mutings: what was asked for is dropped where something else was asked for since. */
  private turn = 0;
  private readonly listeners = new Set<() => void>();

  constructor(private readonly ears: Ears) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The device that is wanted; what was open is opened there. Null: the one that the system has chosen. */
  async use(device: AudioInput | null): Promise<void> {
    if (device?.id === this.device?.id) return;
    this.device = device;
    if (this.state !== 'muted') await this.open();
  }

  /** Opens it; asks the player where the browser has not been permitted yet. */
  async open(): Promise<void> {
    this.shut();
    this.change('asking');
    const turn = ++this.turn;
    await this.ears.start();
    if (turn !== this.turn) return;
    try {
      const stream = this.device?.id === STAND_IN_INPUT.id ? null : await askForInput(this.device?.id);
      if (turn !== this.turn) return closeInput(stream);
      this.stream = stream;
      const { context } = this.ears;
      if (!context) throw new Error('sound does not run yet');
      this.source = stream ? this.follow(context, stream) : standIn(context);
      const analyser = new AnalyserNode(context, { fftSize: 2 * BINS, smoothingTimeConstant: 0 });
      this.source.connect(analyser);
      this.analyser = analyser;
      this.watch.forget();
      this.fedBackAt = 0;
      this.ears.hear(this.source);
      this.timer = setInterval(() => this.look(), LOOK_MS);
      this.change('open');
    } catch (error) {
      if (turn !== this.turn) return;
      this.shut();
      this.change('muted', (error as Error).message);
    }
  }

  private follow(context: AudioContext, stream: MediaStream): AudioNode {
    for (const track of stream.getTracks())
      track.onended = () => this.mute('the input is gone: it is muted, and opened by hand when it is back');
    return context.createMediaStreamSource(stream);
  }

  /** Nothing comes in any more. */
  mute(why = ''): void {
    this.turn++;
    if (this.state === 'muted' && why === this.problem) return;
    this.shut();
    this.change('muted', why);
  }

  private shut(): void {
    clearInterval(this.timer);
    this.ears.hear(null);
    this.source?.disconnect();
    closeInput(this.stream);
    this.source = this.analyser = this.stream = null;
    this.level = 0;
  }

  private look(): void {
    const { analyser } = this;
    if (!analyser) return;
    const wave = new Float32Array(512);
    analyser.getFloatTimeDomainData(wave);
    this.level = wave.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    const spectrum = new Float32Array(BINS);
    analyser.getFloatFrequencyData(spectrum);
    const bin = this.watch.look(spectrum, performance.now());
    if (bin === undefined) return;
    this.fedBackAt = Math.round((bin * analyser.context.sampleRate) / (2 * BINS));
    this.mute(`it fed back at ${this.fedBackAt} Hz, and was muted: turn it away from the loudspeaker, or softer`);
  }

  private change(state: LiveState, problem = ''): void {
    this.state = state;
    this.problem = problem;
    for (const listener of this.listeners) listener();
  }
}
