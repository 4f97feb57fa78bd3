import { LayerPath, type PathHost } from '../notes/layerPath';
import { readPathValues } from '../notes/readPathValues';
import { isSilentKey } from '../../music/tunings';
import { tunedSemitonesOfZone } from '../notes/strike';
import { TRANSPOSE } from '../program/strikeValues';
import { ANSWERS } from '../program/tick';
import type { Voice } from '../voice/voice';
import { type Asking } from './asking';
import { type Answering } from './answering';
import { type Starting } from './starting';
import { CUT_SECONDS, type NotesOwner, type Stage } from './stage';

/** The notes that paths of layers make of what is played. */
export class PathNotes implements PathHost {
  /** The last {@link ANSWERS} that were made or ended, and how many: layer, key and velocity (0: it ended) in one. */
  readonly madeNotes = new Uint32Array(ANSWERS);
  readonly madeFrames = new Float64Array(ANSWERS);
  madeCount = 0;
  private readonly voices: readonly Voice[];
  private readonly clock: Stage['clock'];

  /** `liftKey`: the key of a voice goes up. */
  constructor(
    private readonly patch: NotesOwner,
    { pool, clock }: Stage,
    private readonly asking: Asking,
    private readonly answering: Answering,
    private readonly starting: Starting,
    private readonly liftKey: (voice: Voice) => void,
  ) {
    this.voices = pool.all;
    this.clock = clock;
  }

  /** The patch has another program. */
  setProgram(): void {
    const { layers, program } = this.patch;
    for (let l = 0; l < layers.length; l++) {
      const path = l < program.layers.length ? program.layers[l].path : null;
      if (layers[l].path) layers[l].path!.follow(path, l);
      else if (path) layers[l].path = new LayerPath(l, path, this, this.patch.pathClock);
    }
  }

  /** A key goes down on the path of a layer, where its windows let it in. */
  enter(l: number, channel: number, key: number, velocity: number): void {
    const { asking, patch } = this;
    const { evaluator } = patch;
    const program = patch.program.layers[l];
    const path = patch.layers[l].path!;
    asking.set(channel, key, velocity);
    asking.lookFor(program);
    path.gain[0] = 1;
    evaluator.multiply(program.path!.entry, path.gain, 0);
    if (path.gain[0] === 0) return;
    asking.readValues(program, program.voicings[0]);
    path.transpose[0] = asking.values[TRANSPOSE];
    path.keyDown(channel, key, velocity);
  }

  readPath(path: LayerPath): void {
    const { evaluator, program } = this.patch;
    const layer = program.layers[path.layer];
    evaluator.lookLayer(0, layer);
    readPathValues(evaluator, layer, path.values);
  }

  beginMade(path: LayerPath, note: number): void {
    const l = path.layer;
    const { asking, patch } = this;
    const layer = patch.layers[l];
    const { program } = layer;
    const channel = path.channels[note];
    const velocity = path.velocities[note];
    // What a note sees as its key is the one that transposition would have made this of.
    const key = path.keys[note] - path.transposes[note];
    this.noteMade(l, path.keys[note], velocity);
    if (program.path?.outside || !program.own) return;
    asking.begin();
    asking.count();
    asking.set(channel, key, velocity);
    this.answering.answerPath(this.answering.strikes, path, note, false);
    layer.lastKey = path.keys[note];
  }

  endMade(path: LayerPath, note: number): void {
    const layer = this.patch.layers[path.layer];
    this.noteMade(path.layer, path.keys[note], 0);
    let held = false;
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.made !== path.serials[note] || !voice.keyDown) continue;
      this.liftKey(voice);
      held ||= voice.sustained || voice.caught;
    }
    if (!held && this.answering.releaseStrikes && layer.program.own && !layer.deleted) this.answerMade(path, note);
  }

  /** Release zones answer the end of a note that a path made. */
  private answerMade(path: LayerPath, note: number): void {
    const { asking } = this;
    asking.begin();
    asking.set(path.channels[note], path.keys[note] - path.transposes[note], path.velocities[note]);
    this.answering.answerPath(this.answering.releaseStrikes!, path, note, true);
  }

  forgetMade(path: LayerPath, note: number): void {
    this.noteMade(path.layer, path.keys[note], 0);
  }

  cutMade(path: LayerPath): void {
    const layer = this.patch.layers[path.layer];
    for (const voice of this.voices)
      if (voice.active && voice.layer === layer && !voice.isDismissed && voice.made > 0) voice.dismiss(CUT_SECONDS);
  }

  bendMade(path: LayerPath, note: number, before: number): boolean {
    const layer = this.patch.layers[path.layer];
    const { zones } = this.patch.program;
    let any = false;
    const key = path.keys[note];
    for (const voice of this.voices) {
      if (
        !voice.active ||
        voice.layer !== layer ||
        voice.made !== path.serials[note] ||
        voice.released ||
        voice.isDismissed
      )
        continue;
      any = true;
      if (!voice.isLed) voice.waited[1] = this.clock.frame;
      voice.key = key - path.transposes[note];
      voice.channel = path.channels[note];
      voice.transpose = path.transposes[note];
      // To a key that the tuning leaves out there is no way: what sounds stays where it is.
      if (!isSilentKey(layer.program.tuned, key) || zones.semitonesPerKey[voice.zone] === 0)
        voice.glideTo(
          tunedSemitonesOfZone(zones, voice.zone, key, layer.program.tuned),
          this.starting.glideSeconds(voice, Math.abs(key - before)),
        );
      voice.epoch = -1;
    }
    if (any) {
      this.noteMade(path.layer, before, 0);
      this.noteMade(path.layer, key, path.velocities[note]);
      layer.lastKey = key;
    }
    return any;
  }

  /** Remembers a note that a path made or ended, for whoever shows it or sends it on. */
  private noteMade(layer: number, key: number, velocity: number): void {
    this.madeFrames[this.madeCount % ANSWERS] = this.clock.frame;
    this.madeNotes[this.madeCount++ % ANSWERS] = (layer << 14) | (key << 7) | velocity;
  }

  /** Everything that paths are to do at this frame. */
  run(): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) {
      const { path } = layers[l];
      if (path && path.nextFrame <= this.clock.frame) path.run();
    }
  }

  /** When a path must be asked again. */
  get nextFrame(): number {
    const { layers } = this.patch;
    let next = Infinity;
    for (let l = 0; l < layers.length; l++) {
      const { path } = layers[l];
      if (path && path.nextFrame < next) next = path.nextFrame;
    }
    return next;
  }

  /** The tempo is another one, or the transport has jumped. */
  retime(jump: Float64Array): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) layers[l].path?.retime(jump);
  }

  /** Another patch plays: what only goes on by being held on to ends. */
  dropHeld(): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) layers[l].path?.dropHeld();
  }

  clear(channel: number): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) layers[l].path?.clearChannel(channel);
  }

  /** Everything that paths hold and make ends. */
  end(): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) layers[l].path?.clear();
  }
}
