import type { Chance } from '../../dsp/chance';
import type { PreparedSample } from '../../dsp/sample';
import { CC } from '../../music/midi';
import { gainOfDb } from '../../music/pitch';
import { aimVoice } from '../voice/aim';
import { ADDRESSES, hearsAddress, type Controllers } from '../hands/controllers';
import { COUNTED, type Counted } from '../hands/counted';
import type { Evaluator } from '../moving/evaluate';
import { ALTERNATE, DRAWS, NOTE_STATE, RANDOMS, type NoteValues } from '../hands/noteValues';
import { CAUGHT, DOWN, SUSTAINED, type LayerState, type Owner } from '../notes/layerState';
import { LEGATO } from '../program/compiledPath';
import { LayerPath, type PathClock, type PathHost } from '../notes/layerPath';
import { readPathValues } from '../notes/readPathValues';
import { OF_SAMPLES, OF_SYNTH, type PlayedProgram, type ProgramLayer } from '../program/program';
import { MOST_OWN_STRIKE } from '../program/ownValues';
import { aimOwn, readOwnStrike } from '../voice/aimOwn';
import type { ShapeTable } from '../voice/generators/grains';
import { DRAWN, shapePoints } from '../../sounds/grains/shapes';
import { gainOfZone, semitonesOfZone, Strikes } from '../notes/strike';
import { StrikeChance } from '../notes/strikeChance';
import {
  CHOICE,
  DETUNE,
  GLIDE,
  PAN_CHANCE,
  PAN_KEYS,
  REVERSED,
  UNISON,
  UNISON_WIDTH,
  START,
  STRIKE_VALUES,
  TOUCH,
  TRANSPOSE,
  VELOCITY_TO_LEVEL,
} from '../program/strikeValues';
import { readStrikeValues } from '../moving/readStrikeValues';
import { ANSWERS } from '../program/tick';
import { feltVelocity, gainOfVelocity } from '../program/touch';
import type { Voice } from '../voice/voice';
import type { VoicePool } from '../voice/voicePool';

/** What all patches of an engine share. */
export interface Stage {
  pool: VoicePool;
  chance: Chance;
  rate: number;
  seed: number;
  clock: { readonly frame: number };
}

/** The patch whose keys and pedals these are. */
interface NotesOwner extends Owner {
  readonly program: PlayedProgram;
  readonly evaluator: Evaluator;
  readonly counted: Counted;
  readonly controllers: Controllers;
  readonly layers: readonly LayerState[];
  readonly pathClock: PathClock;
}

/** Keys and pedals of a patch: who starts a voice, and who lets it go. */
export class Notes implements PathHost {
  /** What the program plays, by place; undefined while it has not arrived. */
  samples: (PreparedSample | undefined)[] = [];
  /** Zones that answered since the program came, as places in it: the last {@link ANSWERS}, and how many there were. */
  readonly answers = new Uint32Array(ANSWERS);
  answerCount = 0;
  /** The same of notes that paths made: layer, key and velocity (0: it ended) in one number. */
  readonly madeNotes = new Uint32Array(ANSWERS);
  readonly madeFrames = new Float64Array(ANSWERS);
  madeCount = 0;
  /** The note of a path that is being begun (0: none), and the gain of the windows that let it in. */
  private made = 0;
  private readonly madeGain = new Float64Array(1).fill(1);
  private strikes!: Strikes;
  private releaseStrikes: Strikes | null = null;
  private readonly voices: readonly Voice[];
  private readonly pool: VoicePool;
  private readonly chance: Chance;
  private readonly luck = new StrikeChance();
  /** What strikes have in common is that of a layer which keeps another strike. */
  private keptShown = false;
  /** Seed of the last strike of keys. */
  lastSeed = 0;
  private readonly randoms = new Float64Array(DRAWS).fill(1, ALTERNATE);
  private readonly scatters = new Float64Array(RANDOMS);
  /** What was read for the voice that begins, and for the layers that find their zones themselves. */
  private readonly values = new Float64Array(STRIKE_VALUES);
  private readonly valuesMoved = new Uint8Array(STRIKE_VALUES);
  private readonly ownStrike = new Float64Array(MOST_OWN_STRIKE);
  /** By spec of the program: the shape that is drawn for its grains. */
  private drawn: ShapeTable[] = [];
  private ownTransposes = new Float64Array(0);
  private ownTouches = new Uint8Array(0);
  /** By address and key: velocity of the last strike, which is that of the release zones. */
  private readonly struck = new Uint8Array(ADDRESSES * 128);
  /** The notes that some layer still holds, as address · 128 + key, in order. */
  private readonly going = new Int32Array(ADDRESSES * 128);
  private goingCount = 0;
  /** The strike that is being answered. */
  private readonly asking: NoteValues;

  private readonly clock: Stage['clock'];

  constructor(
    private readonly patch: NotesOwner,
    { pool, chance, clock }: Stage,
  ) {
    this.clock = clock;
    this.pool = pool;
    this.voices = pool.all;
    this.chance = chance;
    this.asking = {
      channel: 1,
      key: 60,
      velocity: 100,
      releaseVelocity: 64,
      randoms: this.randoms,
      scatters: this.scatters,
      states: pool.states,
      row: pool.askingRow,
    };
  }

  /** The patch has another program. */
  setProgram(): void {
    const { program } = this.patch;
    this.strikes = new Strikes(program.table, program.layers, this.luck, program.zones.count);
    this.releaseStrikes =
      program.releaseTable && new Strikes(program.releaseTable, program.layers, this.luck, program.zones.count);
    this.ownTransposes = new Float64Array(program.layers.length);
    this.ownTouches = new Uint8Array(program.layers.length);
    this.answerCount = 0;
    this.drawn = program.specs.map((spec) => shapePoints(DRAWN, spec.drawn));
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) {
      const path = l < program.layers.length ? program.layers[l].path : null;
      if (layers[l].path) layers[l].path!.follow(path, l);
      else if (path) layers[l].path = new LayerPath(l, path, this, this.patch.pathClock);
    }
  }

  /** Whether keys are held whose ends release zones will answer, also when nothing else sounds any more. */
  get awaitsEnds(): boolean {
    return this.releaseStrikes !== null && this.goingCount > 0;
  }

  private isMine(voice: Voice): boolean {
    return voice.active && voice.layer.patch === this.patch;
  }

  /**
   * Whether a layer hears what comes from an address; a finger of an expressive controller is heard where its zone is.
   */
  private isOn(listening: number, from: number): boolean {
    const master = this.patch.controllers.masterOf[from];
    return hearsAddress(listening, from) || (master > 0 && hearsAddress(listening, master));
  }

  noteOn(channel: number, key: number, velocity: number): void {
    const { program, layers } = this.patch;
    const at = channel * 128 + key;
    this.struck[at] = velocity;
    const firstOfPhrase = this.goingCount === 0;
    let heard = false;
    for (let l = 0; l < program.layers.length; l++) {
      if (program.layers[l].path || !this.isOn(program.layers[l].channel, channel)) continue;
      layers[l].held[at] |= DOWN;
      heard = true;
    }
    if (heard) this.addGoing(at);
    this.answer(this.strikes, channel, key, velocity, false, firstOfPhrase);
    for (let l = 0; l < program.layers.length; l++)
      if (program.layers[l].path && this.isOn(program.layers[l].channel, channel))
        this.enterPath(l, channel, key, velocity);
  }

  /** A key goes down on the path of a layer, where its windows let it in. */
  private enterPath(l: number, channel: number, key: number, velocity: number): void {
    const { asking, patch, values } = this;
    const { evaluator } = patch;
    const program = patch.program.layers[l];
    const path = patch.layers[l].path!;
    asking.channel = channel;
    asking.key = key;
    asking.velocity = velocity;
    this.lookFor(program);
    path.gain[0] = 1;
    evaluator.multiply(program.path!.entry, path.gain, 0);
    if (path.gain[0] === 0) return;
    readStrikeValues(evaluator, program, program.voicings[0], values, this.valuesMoved);
    path.transpose[0] = values[TRANSPOSE];
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
    const { asking, patch, strikes } = this;
    const layer = patch.layers[l];
    const { program } = layer;
    const channel = path.channels[note];
    const velocity = path.velocities[note];
    // What a note sees as its key is the one that transposition would have made this of.
    const key = path.keys[note] - path.transposes[note];
    this.noteMade(l, path.keys[note], velocity);
    if (program.path?.outside || !program.own) return;
    this.beginChance();
    this.lastSeed = this.luck.seed;
    this.randoms[ALTERNATE] = 1 - this.randoms[ALTERNATE];
    asking.channel = channel;
    asking.key = key;
    asking.velocity = velocity;
    strikes.count = 0;
    this.made = path.serials[note];
    this.madeGain[0] = path.gains[note];
    this.findOwn(strikes, l, key, velocity, false, path.transposes, note);
    const strike = ++this.pool.strikeCount;
    for (let i = 0; i < strikes.count; i++) this.startVoice(l, strikes.zones[i], strikes.choices[i], strike);
    this.made = 0;
    this.madeGain[0] = 1;
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
    if (!held && this.releaseStrikes && layer.program.own && !layer.deleted) this.answerMade(path, note);
  }

  /** Release zones answer the end of a note that a path made. */
  private answerMade(path: LayerPath, note: number): void {
    const l = path.layer;
    const { asking } = this;
    const strikes = this.releaseStrikes!;
    this.beginChance();
    asking.channel = path.channels[note];
    asking.key = path.keys[note] - path.transposes[note];
    asking.velocity = path.velocities[note];
    strikes.count = 0;
    this.madeGain[0] = path.gains[note];
    this.findOwn(strikes, l, asking.key, asking.velocity, true, path.transposes, note);
    const strike = ++this.pool.strikeCount;
    for (let i = 0; i < strikes.count; i++) this.startVoice(l, strikes.zones[i], strikes.choices[i], strike);
    this.madeGain[0] = 1;
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
      voice.glideTo(semitonesOfZone(zones, voice.zone, key), this.glideSeconds(voice, Math.abs(key - before)));
      voice.epoch = -1;
    }
    if (any) {
      this.noteMade(path.layer, before, 0);
      this.noteMade(path.layer, key, path.velocities[note]);
      layer.lastKey = key;
    }
    return any;
  }

  /** How long a glide over some semitones takes. */
  private glideSeconds({ strikeValues, layer }: Voice, semitones: number): number {
    return layer.program.glideByRate ? (strikeValues[GLIDE] * semitones) / 12 : strikeValues[GLIDE];
  }

  /** Remembers a note that a path made or ended, for whoever shows it or sends it on. */
  private noteMade(layer: number, key: number, velocity: number): void {
    this.madeFrames[this.madeCount % ANSWERS] = this.clock.frame;
    this.madeNotes[this.madeCount++ % ANSWERS] = (layer << 14) | (key << 7) | velocity;
  }

  /** Everything that paths are to do at this frame. */
  runPaths(): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) {
      const { path } = layers[l];
      if (path && path.nextFrame <= this.clock.frame) path.run();
    }
  }

  /** When a path must be asked again. */
  get nextPathFrame(): number {
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

  /** A program change picks a sound of the lists of layers that hear it. */
  pick(channel: number, program: number): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) {
      const layer = layers[l];
      if (
        layer.program.receive.program &&
        layer.program.own &&
        program < layer.program.own.length &&
        this.isOn(layer.program.channel, channel)
      )
        layer.picked = program;
    }
  }

  private addGoing(at: number): void {
    const { going } = this;
    let i = this.goingCount;
    while (i > 0 && going[i - 1] > at) i--;
    if (i > 0 && going[i - 1] === at) return;
    for (let n = this.goingCount++; n > i; n--) going[n] = going[n - 1];
    going[i] = at;
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
        if (voice.active && voice.layer === layers[l] && voice.keyDown) voice.dismiss(CUT_SECONDS);
      for (let i = 0; i < this.goingCount; i++) {
        const at = this.going[i];
        if ((layers[l].held[at] & DOWN) === 0) continue;
        const { asking, strikes } = this;
        asking.channel = at >> 7;
        asking.key = at & 127;
        asking.velocity = this.struck[at];
        this.beginChance();
        strikes.count = 0;
        if (program.layers[l].own) this.findOwn(strikes, l, asking.key, asking.velocity, false, NONE, 0);
        else strikes.strike(asking.key, asking.velocity);
        const strike = ++this.pool.strikeCount;
        for (let n = 0; n < strikes.count; n++)
          if (strikes.layers[n] === l) this.startVoice(l, strikes.zones[n], strikes.choices[n], strike);
        if (goesOn) this.goOn(layers[l], asking.channel, asking.key, strike);
      }
    }
  }

  /** Starts what answers a strike, or the end of a note in the layers where it ends just now. */
  private answer(
    strikes: Strikes,
    channel: number,
    key: number,
    velocity: number,
    atEnd: boolean,
    firstOfPhrase: boolean,
  ): void {
    const { asking, patch } = this;
    const { evaluator, layers, program } = patch;
    this.beginChance();
    if (!atEnd) this.lastSeed = this.luck.seed;
    asking.channel = channel;
    asking.key = key;
    asking.velocity = velocity;
    if (!atEnd) {
      this.randoms[ALTERNATE] = 1 - this.randoms[ALTERNATE];
      const changed = patch.counted.strike(channel, key, velocity, this.randoms);
      if (program.movers.length > 0) {
        evaluator.strike(firstOfPhrase);
        for (let way = 0; way < COUNTED.length; way++) if (changed & (1 << way)) evaluator.recount(way);
      }
      if (program.shared.length > 0) evaluator.lookPatch(0, false);
    }
    strikes.strike(key, velocity);
    for (let l = 0; l < program.layers.length; l++) {
      if (
        program.layers[l].own &&
        !program.layers[l].path &&
        (atEnd ? layers[l].ending : this.isOn(program.layers[l].channel, channel))
      )
        this.findOwn(strikes, l, key, velocity, atEnd, NONE, 0);
    }
    const strike = ++this.pool.strikeCount;
    for (let i = 0; i < strikes.count; i++) {
      const l = strikes.layers[i];
      if (atEnd ? layers[l].ending : this.isOn(layers[l].program.channel, channel))
        this.startVoice(l, strikes.zones[i], strikes.choices[i], strike);
    }
    if (!atEnd)
      for (let l = 0; l < program.layers.length; l++)
        if (!program.layers[l].path && this.isOn(program.layers[l].channel, channel))
          layers[l].lastKey = key + program.layers[l].transpose;
  }

  /** A layer finds its zones itself: in the sound, at the key and at the velocity that hold for this strike. */
  private findOwn(
    strikes: Strikes,
    l: number,
    key: number,
    velocity: number,
    atEnd: boolean,
    transposes: Float64Array,
    note: number,
  ): void {
    const program = this.patch.program.layers[l];
    const { values } = this;
    const own = program.own!;
    this.lookFor(program);
    readStrikeValues(this.patch.evaluator, program, program.voicings[0], values, this.valuesMoved);
    this.ownTransposes[l] = program.path ? transposes[note] : values[TRANSPOSE];
    this.ownTouches[l] =
      this.valuesMoved[TOUCH] === 0 || program.fixed > 0
        ? program.touch[velocity]
        : feltVelocity(velocity, values[TOUCH], program.outLow, program.outHigh);
    const soundKey = Math.min(127, Math.max(0, key + this.ownTransposes[l]));
    if (program.morph)
      for (let n = 0; n < own.length; n++) strikes.strikeOwn(l, own[n], n, soundKey, this.ownTouches[l], atEnd);
    else {
      const { picked } = this.patch.layers[l];
      const choice =
        picked >= 0 && picked < own.length ? picked : Math.min(own.length - 1, Math.floor(values[CHOICE] * own.length));
      strikes.strikeOwn(l, own[choice], choice, soundKey, this.ownTouches[l], atEnd);
    }
  }

  /** A strike begins: what its layers have in common is drawn. */
  private beginChance(): void {
    this.luck.begin(this.chance, this.patch.program.layers.length);
    this.luck.drawShared(this.randoms, -1);
    this.keptShown = false;
  }

  /** Reads everything as the strike that is being answered finds it in a layer; its movers begin. */
  private lookFor(program: ProgramLayer): void {
    const { evaluator } = this.patch;
    if (program.kept >= 0) this.luck.drawShared(this.randoms, program.kept);
    else if (this.keptShown) this.luck.drawShared(this.randoms, -1);
    this.keptShown = program.kept >= 0;
    this.luck.drawOwn(this.scatters, this.patch.program.layers.indexOf(program), program.kept);
    evaluator.lookLayer(0, program);
    evaluator.beginNote(program, this.asking, program.kept >= 0 ? program.kept : this.pool.births + 1);
  }

  private isHeldBy(layer: LayerState, pedal: number): boolean {
    const { receive, channel } = layer.program;
    return (
      (pedal === CC.sostenuto ? receive.sostenuto : receive.sustain) && this.patch.controllers.isDown(channel, pedal)
    );
  }

  /** A key goes up: its note ends in the layers where no pedal holds it, and their release zones answer. */
  private endKey(channel: number, key: number): void {
    const at = channel * 128 + key;
    const { layers, program, counted } = this.patch;
    let anyEnds = false;
    let goesOn = false;
    for (let l = 0; l < program.layers.length; l++) {
      const layer = layers[l];
      const before = layer.held[at];
      layer.held[at] = (before & ~DOWN) | ((before & DOWN) !== 0 && this.isHeldBy(layer, CC.sustain) ? SUSTAINED : 0);
      layer.ending = before !== 0 && layer.held[at] === 0;
      anyEnds ||= layer.ending;
      goesOn ||= layer.held[at] !== 0;
    }
    if (!goesOn) this.dropGoing(at);
    const changed = counted.lift(channel, key);
    for (let way = 0; way < COUNTED.length; way++) if (changed & (1 << way)) this.patch.evaluator.recount(way);
    if (anyEnds && this.releaseStrikes) this.answer(this.releaseStrikes, channel, key, this.struck[at], true, false);
  }

  private dropGoing(at: number): void {
    const { going } = this;
    for (let i = 0; i < this.goingCount; i++) {
      if (going[i] !== at) continue;
      this.goingCount--;
      for (let n = i; n < this.goingCount; n++) going[n] = going[n + 1];
      break;
    }
    if (this.goingCount === 0) this.patch.evaluator.allUp();
  }

  /** Notes end whose keys are up, in the layers whose pedals have come up. */
  private endLifted(): void {
    const { layers, program } = this.patch;
    const { going } = this;
    for (let i = 0; i < this.goingCount;) {
      const at = going[i];
      let anyEnds = false;
      let goesOn = false;
      for (let l = 0; l < program.layers.length; l++) {
        const layer = layers[l];
        const before = layer.held[at];
        layer.ending = false;
        if ((before & (SUSTAINED | CAUGHT)) !== 0) {
          if ((before & SUSTAINED) !== 0 && !this.isHeldBy(layer, CC.sustain)) layer.held[at] &= ~SUSTAINED;
          if ((before & CAUGHT) !== 0 && !this.isHeldBy(layer, CC.sostenuto)) layer.held[at] &= ~CAUGHT;
          layer.ending = layer.held[at] === 0;
          anyEnds ||= layer.ending;
        }
        goesOn ||= layer.held[at] !== 0;
      }
      if (goesOn) i++;
      else this.dropGoing(at);
      if (anyEnds && this.releaseStrikes)
        this.answer(this.releaseStrikes, at >> 7, at & 127, this.struck[at], true, false);
    }
  }

  /** Notes are forgotten without an end that anything could answer. */
  private forgetNotes(channel: number): void {
    for (const layer of this.patch.layers) layer.held.fill(0, channel * 128, channel * 128 + 128);
    for (let i = this.goingCount - 1; i >= 0; i--) if (this.going[i] >> 7 === channel) this.dropGoing(this.going[i]);
    for (let key = 0; key < 128; key++) this.patch.counted.lift(channel, key);
  }

  private startVoice(l: number, zone: number, choice: number, strike: number): void {
    const { asking, patch, values, pool } = this;
    const { key, velocity } = asking;
    const { evaluator } = patch;
    const { zones } = patch.program;
    const layer = patch.layers[l];
    const { program } = layer;
    const transpose = program.own ? this.ownTransposes[l] : program.transpose;
    const felt = program.own ? this.ownTouches[l] : program.touch[velocity];
    const soundKey = Math.min(127, Math.max(0, key + transpose));
    const own = zones.windowSet[zone] < 0 ? null : zones.windowSets[zones.windowSet[zone]];
    this.lookFor(program);
    const windowsGain =
      this.madeGain[0] *
      gainOfZone(zones, zone, soundKey, felt) *
      evaluator.gainOf(program.windows.atStrike) *
      (own ? evaluator.gainOf(own.atStrike) : 1);
    // What can never sound does nothing to anybody; what is silent for now takes nobody's place.
    if (
      windowsGain === 0 ||
      evaluator.isShutFor(program.windows.followed) ||
      (own && evaluator.isShutFor(own.followed))
    )
      return;
    const silent =
      layer.gain === 0 ||
      evaluator.gainOf(program.windows.followed) === 0 ||
      (own !== null && evaluator.gainOf(own.followed) === 0);
    if (program.choke > 0 && strike !== this.chokedAt) this.chokePads(program, strike);
    if (zones.chokeGroup[zone] >= 0) this.choke(layer, zones.chokeGroup[zone], strike);
    const voicing = program.voicings[zones.voicing[zone]];
    readStrikeValues(evaluator, program, voicing, values, this.valuesMoved);
    const isTurned = values[REVERSED] >= 0.5 && zones.turned[zone] >= 0;
    const sample =
      zones.kind[zone] === OF_SYNTH ? null : this.samples[isTurned ? zones.turned[zone] : zones.sample[zone]];
    if (sample === undefined || (silent && pool.isFull)) return;
    const count = Math.max(1, Math.round(values[UNISON]));
    for (let n = 0; n < count; n++) {
      const voice = pool.take(strike, layer, program.limit);
      if (!voice) return;
      this.begin(
        voice,
        sample,
        l,
        zone,
        choice,
        strike,
        isTurned,
        windowsGain,
        count > 1 ? (2 * n) / (count - 1) - 1 : 0,
        count,
      );
    }
    this.answers[this.answerCount++ % ANSWERS] = zone;
  }

  /** Starts one voice of a zone; `place` −1…1 is its place among `count` that play together. */
  /** Notes that were struck anew go on where those stand that they take the place of. */
  private goOn(layer: LayerState, channel: number, key: number, strike: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.strike !== strike) continue;
      for (const old of this.voices) {
        if (
          !old.active ||
          old.layer !== layer ||
          old.strike === strike ||
          old.channel !== channel ||
          old.key !== key ||
          old.released
        )
          continue;
        voice.goOnFrom(old, CUT_SECONDS);
        break;
      }
    }
  }

  private begin(
    voice: Voice,
    sample: PreparedSample | null,
    l: number,
    zone: number,
    choice: number,
    strike: number,
    isTurned: boolean,
    windowsGain: number,
    place: number,
    count: number,
  ): void {
    const { asking, patch, values, pool } = this;
    const { channel, key, velocity } = asking;
    const { evaluator } = patch;
    const { zones } = patch.program;
    const layer = patch.layers[l];
    const { program } = layer;
    const transpose = program.own ? this.ownTransposes[l] : program.transpose;
    const felt = program.own ? this.ownTouches[l] : program.touch[velocity];
    const own = zones.windowSet[zone] < 0 ? null : zones.windowSets[zones.windowSet[zone]];
    const voicing = program.voicings[zones.voicing[zone]];
    voice.layer = layer;
    voice.receive = program.receive;
    voice.made = this.made;
    voice.voicing = voicing;
    voice.channel = channel;
    voice.key = key;
    voice.velocity = velocity;
    voice.releaseVelocity = 64;
    voice.randoms.set(this.randoms);
    voice.scatters.set(this.scatters);
    if (program.ofNote.length > 0 && patch.program.movers.length > 0)
      pool.states.copyWithin(voice.row, pool.askingRow, pool.askingRow + NOTE_STATE);
    voice.zone = zone;
    voice.born = ++pool.births;
    voice.strike = strike;
    voice.fullLength = zones.fullLength[zone] === 1;
    voice.chokedBy = zones.chokedBy[zone];
    voice.chokedFast = zones.chokedFast[zone] === 1;
    voice.zoneGain = (windowsGain * gainOfDb(zones.gainDb[zone])) / Math.sqrt(count);
    voice.zoneWindows = own && own.followed.length > 0 ? own.followed : null;
    voice.zoneWindowsGain[0] = 1;
    voice.zonePan =
      zones.pan[zone] +
      values[UNISON_WIDTH] * (count > 1 ? place : 0) +
      values[PAN_CHANCE] * (values[PAN_CHANCE] > 0 ? this.luck.draws.signed() : 0) +
      (values[PAN_KEYS] * (key + transpose - 64)) / 44;
    voice.transpose = transpose;
    voice.zoneSemitones =
      semitonesOfZone(zones, zone, key + transpose) + (count > 1 ? (place * values[DETUNE]) / 200 : 0);
    voice.strikeValues.set(values);
    voice.strikeMoved.set(this.valuesMoved);
    voice.touchMoved = this.valuesMoved[TOUCH] + this.valuesMoved[VELOCITY_TO_LEVEL] > 0;
    voice.touchGain = voice.touchMoved
      ? gainOfVelocity(felt, values[VELOCITY_TO_LEVEL])
      : voicing.velocityGain[velocity];
    voice.morphs = program.morph ? program.own!.length : 1;
    voice.morph = choice;
    voice.beginSway(this.luck.draws);
    if (values[GLIDE] > 0 && !Number.isNaN(layer.lastKey) && program.path?.playing !== LEGATO)
      voice.glideFrom(
        (layer.lastKey - key - transpose) * zones.semitonesPerKey[zone],
        this.glideSeconds(voice, Math.abs(layer.lastKey - key - transpose)),
      );
    if (!voice.take(zones.kind[zone])) return;
    aimVoice(voice, evaluator, patch.controllers);
    voice.waited[1] = this.clock.frame;
    // The next span looks again: more may happen before it.
    voice.epoch = -1;
    const first = isTurned ? zones.frames[zone] - zones.end[zone] : zones.start[zone];
    const end = isTurned ? zones.frames[zone] - zones.start[zone] : zones.end[zone];
    const start = values[START] === 0 ? first : Math.floor(first + values[START] * Math.max(0, end - first - 1));
    const kind = zones.kind[zone];
    if (kind !== OF_SAMPLES) {
      aimOwn(voice, evaluator);
      readOwnStrike(evaluator, program, kind, voicing.own!, this.ownStrike);
      if (kind === OF_SYNTH)
        voice.startSynth(
          this.ownStrike,
          patch.program.specs[zones.spec[zone]].waves,
          this.luck.draws,
          program.ownRoutes[kind]?.aside ?? false,
        );
      else voice.startGrains(sample!, start, end, this.ownStrike, this.drawn[zones.spec[zone]], this.luck.draws);
      if (zones.fadeIn[zone] > 0) voice.comeIn(zones.fadeIn[zone]);
      return;
    }
    voice.start(sample!, start, end, zones.fadeOut[zone]);
    if (zones.fadeIn[zone] > 0) voice.comeIn(zones.fadeIn[zone]);
    if (zones.loopEnd[zone] > 0) {
      const { frames, loopStart, loopEnd } = zones;
      voice.loopWhileSounding(
        isTurned ? frames[zone] - loopEnd[zone] : loopStart[zone],
        isTurned ? frames[zone] - loopStart[zone] : loopEnd[zone],
        zones.loopCrossfade[zone],
        zones.loopUntilRelease[zone] === 1,
      );
    }
  }

  /** A strike of a choke group ends what this group ends in the same layer, but nothing of the strike itself. */
  private choke(layer: LayerState, group: number, strike: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.chokedBy !== group || voice.strike === strike) continue;
      if (voice.chokedFast) voice.dismiss();
      else this.end(voice);
    }
  }

  /** A strike of a pad ends what sounds of the others that share its number. */
  private chokePads({ pad, choke }: ProgramLayer, strike: number): void {
    this.chokedAt = strike;
    for (const voice of this.voices) {
      if (!this.isMine(voice) || voice.strike === strike) continue;
      const { program } = voice.layer;
      if (program.choke === choke && program.pad !== pad) voice.dismiss();
    }
  }
  private chokedAt = -1;

  /** Ends a voice with its release, held or not. */
  end(voice: Voice): void {
    voice.letEnd();
    this.patch.evaluator.releaseNote(voice);
  }

  noteOff(channel: number, key: number, velocity: number): void {
    this.endKey(channel, key);
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) layers[l].path?.keyUp(channel, key);
    for (const voice of this.voices) {
      if (!this.isMine(voice) || !voice.keyDown || voice.made > 0 || voice.key !== key || voice.channel !== channel)
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
        this.forgetNotes(channel);
        this.clearPaths(channel);
        for (const voice of this.voices) if (this.isMine(voice) && this.isOn(channel, voice.channel)) voice.dismiss();
        break;
      // A change of mode ends the notes as well (MIDI 1.0, channel mode messages).
      case CC.allNotesOff:
      case CC.omniOff:
      case CC.omniOn:
      case CC.mono:
      case CC.poly:
        for (let key = 0; key < 128; key++) this.endKey(channel, key);
        this.clearPaths(channel);
        for (const voice of this.voices)
          if (this.isMine(voice) && voice.channel === channel && voice.keyDown) this.liftKey(voice);
        break;
      case CC.resetControllers:
        controllers.reset(channel);
        this.liftPedals();
        break;
      default: {
        const catching = controller === CC.sostenuto && value >= 64 && !controllers.isDown(channel, CC.sostenuto);
        controllers.setController(channel, controller, value);
        if (catching) {
          this.catchNotes();
          for (const voice of this.voices) {
            if (
              this.isMine(voice) &&
              voice.keyDown &&
              this.isOn(voice.layer.program.channel, channel) &&
              voice.receive.sostenuto
            )
              voice.caught = true;
          }
        } else if (controller === CC.sustain || controller === CC.sostenuto) this.liftPedals();
      }
    }
  }

  private clearPaths(channel: number): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) layers[l].path?.clearChannel(channel);
  }

  /** Everything that paths hold and make ends. */
  endPaths(): void {
    const { layers } = this.patch;
    for (let l = 0; l < layers.length; l++) layers[l].path?.clear();
  }

  /** The sostenuto pedal takes hold of the notes whose keys are down. */
  private catchNotes(): void {
    const { layers, program } = this.patch;
    for (let l = 0; l < program.layers.length; l++) {
      const layer = layers[l];
      if (!this.isHeldBy(layer, CC.sostenuto)) continue;
      for (let i = 0; i < this.goingCount; i++)
        if ((layer.held[this.going[i]] & DOWN) !== 0) layer.held[this.going[i]] |= CAUGHT;
    }
  }

  /** Lets go what pedals held that are up by now. */
  liftPedals(): void {
    const { controllers } = this.patch;
    this.endLifted();
    for (const voice of this.voices) {
      if (!this.isMine(voice) || (!voice.sustained && !voice.caught)) continue;
      const { channel } = voice.layer.program;
      if (!controllers.isDown(channel, CC.sostenuto)) voice.caught = false;
      this.letGo(voice, voice.sustained && controllers.isDown(channel, CC.sustain));
    }
  }

  /** Silence: every note is forgotten, and every controller at rest. */
  panic(): void {
    for (let address = 0; address < ADDRESSES; address++) this.patch.controllers.reset(address);
    for (const layer of this.patch.layers) layer.held.fill(0);
    this.goingCount = 0;
    this.endPaths();
    this.patch.counted.clear();
    this.patch.evaluator.allUp();
    for (const voice of this.voices) {
      if (!this.isMine(voice)) continue;
      voice.keyDown = voice.sustained = voice.caught = false;
      voice.dismiss();
    }
  }
}

/** A note that another takes over from goes in this time. */
const CUT_SECONDS = 0.012;
const NONE = new Float64Array(1);
