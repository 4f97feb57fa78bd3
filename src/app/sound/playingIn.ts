import type { EngineEvent } from '../../core/engine/hands/event';
import { tempoOfTaps } from '../../core/music/time';
import type { Patch } from '../../core/rig/schema';
import type { AudioHost } from '../../host/audioHost';
import { Latch } from '../../host/latch';
import type { Performance } from '../../host/performance';
import { TakeRecorder } from '../../host/takeRecorder';
import type { Programs } from './programs';

type Engine = Pick<AudioHost, 'send' | 'context'>;
type Hands = Pick<Performance, 'note' | 'controllers' | 'tempo'>;

/** The one way from hands to the engine: notes pass the latch, everything is recorded, shown and sent. */
export class PlayingIn {
  readonly recorder = new TakeRecorder();
  readonly latch: Latch;
  /** What an engine that begins must know of expressive controllers. */
  readonly zonesByPort = new Map<number, EngineEvent>();
  private taps: number[] = [];

  constructor(
    private readonly engine: Engine,
    private readonly hands: Hands,
    private readonly playing: Pick<Programs, 'patch'>,
    private readonly tell: () => void,
  ) {
    this.latch = new Latch(
      (event, time) => this.playNow(event, time),
      () => this.clock(),
      () => this.hands.tempo ?? this.playing.patch?.tempo ?? 120,
    );
  }

  /** The time of the audio in seconds; before it runs, that of the page. */
  clock(): number {
    return this.engine.context?.currentTime ?? performance.now() / 1000;
  }

  /** Something was played or moved, by whichever means. Notes pass through the latch, which may keep them. */
  play(event: EngineEvent): void {
    if (event.type === 'noteOn' || event.type === 'noteOff') this.latch.take(event);
    else this.playNow(event);
  }

  /** The same, past the latch. */
  playNow(event: EngineEvent, time?: number): void {
    this.recorder.note(event);
    if (event.type === 'zones') this.zonesByPort.set(event.port ?? 0, event);
    this.engine.send(event, time);
    this.hands.note(event);
  }

  /** A beat is tapped: from the second on the tempo follows, and the patch as it is kept stays. */
  tap(): void {
    this.taps = [...this.taps.slice(-7), performance.now() / 1000];
    const tempo = tempoOfTaps(this.taps);
    if (tempo !== undefined) this.play({ type: 'tempo', tempo });
    this.tell();
  }

  /** The patch's own tempo again. */
  endTapping(): void {
    this.taps = [];
    this.play({ type: 'tempo', tempo: null });
    this.tell();
  }

  /** Where something stands that controls and hands move: 0…1; undefined where the patch has none such. */
  liveOf(target: string): number | undefined {
    const { patch } = this.playing;
    const [kind, number, axis] = target.split('.');
    const { controllers } = this.hands;
    if (kind === 'macro') {
      const macro = patch?.macros.find((candidate) => candidate.number === Number(number));
      const live = controllers.macros[Number(number)];
      return macro && (Number.isNaN(live) ? macro.value : live);
    }
    const pad = patch?.xyPads.find((candidate) => candidate.number === Number(number));
    const live = controllers.dots[2 * Number(number) + (axis === 'y' ? 1 : 0)];
    return pad && (Number.isNaN(live) ? pad[axis as 'x' | 'y'] : live);
  }

  /** Plays a macro or a dot: it moves, and the patch stays as it is. */
  moveLive(target: string, value: number, letGo = false): void {
    const [kind, number, axis] = target.split('.');
    const n = Number(number);
    if (kind === 'macro') this.play({ type: 'macro', number: n, value });
    else
      this.play({
        type: 'xy',
        number: n,
        x: axis === 'x' ? value : (this.liveOf(`xy.${n}.x`) ?? 0.5),
        y: axis === 'y' ? value : (this.liveOf(`xy.${n}.y`) ?? 0.5),
        letGo,
      });
  }

  /** What stood at its start goes along when its start is edited; what was played elsewhere stays there. */
  followStarts(before: Patch, patch: Patch): void {
    for (const macro of patch.macros) {
      const old = before.macros.find((candidate) => candidate.number === macro.number);
      if (old && old.value !== macro.value && this.hands.controllers.macros[macro.number] === macro.value)
        this.play({ type: 'rest', kind: 'macro', number: macro.number });
    }
  }
}
