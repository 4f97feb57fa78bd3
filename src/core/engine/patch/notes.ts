import { CC } from '../../music/midi';
import { ADDRESSES } from '../hands/controllers';
import { DOWN, type LayerState } from '../notes/layerState';
import { NOWHERE } from '../voice/struckNote';
import type { Voice } from '../voice/voice';
import { Asking } from './asking';
import { Answering } from './answering';
import { Starting } from './starting';
import { PathNotes } from './pathNotes';
import { HeldNotes } from './heldNotes';
import { CUT_SECONDS, type NotesOwner, type Stage } from './stage';

/** Keys and pedals of a patch: who starts a voice, and who lets it go. */
export class Notes {
  private readonly asking: Asking;
  readonly starting: Starting;
  private readonly answering: Answering;
  readonly paths: PathNotes;
  private readonly held: HeldNotes;
  private readonly voices: readonly Voice[];

  constructor(
    private readonly patch: NotesOwner,
    stage: Stage,
  ) {
    this.voices = stage.pool.all;
    this.asking = new Asking(patch, stage);
    this.starting = new Starting(patch, stage, this.asking);
    this.answering = new Answering(patch, stage, this.asking, this.starting);
    this.held = new HeldNotes(patch, this.answering);
    this.paths = new PathNotes(patch, stage, this.asking, this.answering, this.starting, (voice) =>
      this.liftKey(voice),
    );
  }

  /** The patch has another program. */
  setProgram(): void {
    this.answering.setProgram();
    this.starting.setProgram();
    this.paths.setProgram();
  }

  /** Whether keys are held whose ends release zones will answer, also when nothing else sounds any more. */
  get awaitsEnds(): boolean {
    return this.answering.releaseStrikes !== null && this.held.count > 0;
  }

  /** Seed of the last strike of keys. */
  get lastSeed(): number {
    return this.asking.lastSeed;
  }

  noteOn(channel: number, key: number, velocity: number): void {
    const { program, layers } = this.patch;
    const at = channel * 128 + key;
    this.held.struck[at] = velocity;
    const firstOfPhrase = this.held.count === 0;
    let heard = false;
    for (let l = 0; l < program.layers.length; l++) {
      if (program.layers[l].path || !this.answering.isOn(program.layers[l].channel, channel)) continue;
      layers[l].held[at] |= DOWN;
      heard = true;
    }
    if (heard) this.held.add(at);
    this.answering.answer(this.answering.strikes, channel, key, velocity, false, firstOfPhrase);
    for (let l = 0; l < program.layers.length; l++)
      if (program.layers[l].path && this.answering.isOn(program.layers[l].channel, channel))
        this.paths.enter(l, channel, key, velocity);
  }

  /** A program change picks a sound of the lists of layers that hear it. */
  pick(channel: number, program: number): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) {
      const layer = layers[l];
      if (
        layer.program.receive.program &&
        layer.program.own &&
        program < layer.program.own.length &&
        this.answering.isOn(layer.program.channel, channel)
      )
        layer.picked = program;
    }
  }

  /**
   * The notes whose keys are down begin again in one layer, what sounded of them there fades; `goesOn`: they stand
   * where they stood, with no new strike. A layer with a path of its own goes on as it does.
   */
  restrike(layerId: string, goesOn = false): void {
    const { layers, program } = this.patch;
    for (let l = 0; l < program.layers.length; l++) {
      if (program.layers[l].id !== layerId || program.layers[l].path) continue;
      for (const voice of this.voices)
        if (voice.active && voice.layer === layers[l] && voice.keyDown && !voice.isStanding) voice.dismiss(CUT_SECONDS);
      for (let i = 0; i < this.held.count; i++) {
        const at = this.held.going[i];
        if ((layers[l].held[at] & DOWN) === 0) continue;
        const strike = this.answering.again(l, at >> 7, at & 127, this.held.struck[at]);
        if (goesOn) this.starting.goOn(layers[l], at >> 7, at & 127, strike);
      }
    }
  }

  /** Layers that play by themselves begin their notes where they have none; those that no longer do end them. */
  stand(): void {
    const { layers, program } = this.patch;
    for (const voice of this.voices)
      if (this.starting.isMine(voice) && voice.isStanding && voice.layer.program.stands === null) voice.letEnd();
    for (let l = 0; l < program.layers.length; l++) {
      const { stands } = program.layers[l];
      if (stands && !this.isStanding(layers[l])) this.answering.again(l, NOWHERE, stands.key, stands.velocity);
    }
  }

  private isStanding(layer: LayerState): boolean {
    for (const voice of this.voices) if (voice.active && voice.layer === layer && voice.isStanding) return true;
    return false;
  }

  /** Ends the notes of layers that play by themselves. */
  sitDown(): void {
    for (const voice of this.voices) if (this.starting.isMine(voice) && voice.isStanding) voice.letEnd();
  }

  noteOff(channel: number, key: number, velocity: number): void {
    this.held.endKey(channel, key);
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) layers[l].path?.keyUp(channel, key);
    for (const voice of this.voices) {
      if (
        !this.starting.isMine(voice) ||
        !voice.keyDown ||
        voice.made > 0 ||
        voice.key !== key ||
        voice.channel !== channel
      )
        continue;
      voice.releaseVelocity = velocity;
      this.liftKey(voice);
    }
  }

  private liftKey(voice: Voice): void {
    const { program } = voice.layer;
    voice.keyDown = false;
    voice.sustained = voice.receive.sustain && this.patch.controllers.isDown(program.channel, CC.sustain);
    this.letGo(voice, voice.sustained);
  }

  /** Releases a voice that neither its key nor a pedal holds. */
  private letGo(voice: Voice, sustained = false): void {
    voice.sustained = sustained;
    if (voice.keyDown || sustained || voice.caught || voice.released) return;
    voice.release();
    this.patch.evaluator.releaseNote(voice);
  }

  control(channel: number, controller: number, value: number): void {
    const { controllers } = this.patch;
    switch (controller) {
      case CC.allSoundOff:
        this.held.forget(channel);
        this.paths.clear(channel);
        for (const voice of this.voices)
          if (this.starting.isMine(voice) && !voice.isStanding && this.answering.isOn(channel, voice.channel))
            voice.dismiss();
        break;
      // A change of mode ends the notes as well (MIDI 1.0, channel mode messages).
      case CC.allNotesOff:
      case CC.omniOff:
      case CC.omniOn:
      case CC.mono:
      case CC.poly:
        for (let key = 0; key < 128; key++) this.held.endKey(channel, key);
        this.paths.clear(channel);
        for (const voice of this.voices)
          if (this.starting.isMine(voice) && voice.channel === channel && voice.keyDown) this.liftKey(voice);
        break;
      case CC.resetControllers:
        controllers.reset(channel);
        this.liftPedals();
        break;
      default: {
        const catching = controller === CC.sostenuto && value >= 64 && !controllers.isDown(channel, CC.sostenuto);
        controllers.setController(channel, controller, value);
        if (catching) {
          this.held.catch();
          for (const voice of this.voices) {
            if (
              this.starting.isMine(voice) &&
              voice.keyDown &&
              this.answering.isOn(voice.layer.program.channel, channel) &&
              voice.receive.sostenuto
            )
              voice.caught = true;
          }
        } else if (controller === CC.sustain || controller === CC.sostenuto) this.liftPedals();
      }
    }
  }

  /** Lets go what pedals held that are up by now. */
  liftPedals(): void {
    const { controllers } = this.patch;
    this.held.endLifted();
    for (const voice of this.voices) {
      if (!this.starting.isMine(voice) || (!voice.sustained && !voice.caught)) continue;
      const { channel } = voice.layer.program;
      if (!controllers.isDown(channel, CC.sostenuto)) voice.caught = false;
      this.letGo(voice, voice.sustained && controllers.isDown(channel, CC.sustain));
    }
  }

  /** Silence: every note is forgotten, and every controller at rest. */
  panic(): void {
    for (let address = 0; address < ADDRESSES; address++) this.patch.controllers.reset(address);
    for (const layer of this.patch.layers) layer.held.fill(0);
    this.held.count = 0;
    this.paths.end();
    this.patch.counted.clear();
    this.patch.evaluator.movers.allUp();
    for (const voice of this.voices) {
      if (!this.starting.isMine(voice)) continue;
      voice.keyDown = voice.sustained = voice.caught = false;
      voice.dismiss();
    }
  }
}
