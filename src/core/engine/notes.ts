import type { Chance } from '../dsp/chance';
import type { PreparedSample } from '../dsp/sample';
import { CC } from '../music/midi';
import { gainOfDb } from '../music/pitch';
import { aimVoice } from './aim';
import { ADDRESSES, hearsAddress, type Controllers } from './controllers';
import { COUNTED, type Counted } from './counted';
import type { Evaluator } from './evaluate';
import { hears } from './evaluate';
import { ALTERNATE, DRAWS, NOTE_STATE, RANDOMS, type NoteValues } from './noteValues';
import { CAUGHT, DOWN, SUSTAINED, type LayerState, type Owner } from './layerState';
import type { PlayedProgram, ProgramLayer } from './program';
import { gainOfZone, semitonesOfZone, Strikes } from './strike';
import { CHOICE, readStrikeValues, REVERSED, START, STRIKE_VALUES, TOUCH, TRANSPOSE, VELOCITY_TO_LEVEL } from './strikeValues';
import { ANSWERS } from './tick';
import { feltVelocity, gainOfVelocity } from './touch';
import type { Voice } from './voice';
import type { VoicePool } from './voicePool';

/** What all patches of an engine share. */
export interface Stage { pool: VoicePool; chance: Chance; scatter: Chance; rate: number; seed: number; clock: { readonly frame: number } }

/** The patch whose keys and pedals these are. */
interface NotesOwner extends Owner {
  readonly program: PlayedProgram;
  readonly evaluator: Evaluator;
  readonly counted: Counted;
  readonly controllers: Controllers;
  readonly layers: readonly LayerState[];
}

/** Keys and pedals of a patch: who starts a voice, and who lets it go. */
export class Notes {
  /** What the program plays, by place; undefined while it has not arrived. */
  samples: (PreparedSample | undefined)[] = [];
  /** Zones that answered since the program came, as places in it: the last {@link ANSWERS}, and how many there were. */
  readonly answers = new Uint32Array(ANSWERS);
  answerCount = 0;
  private strikes!: Strikes;
  private releaseStrikes: Strikes | null = null;
  private readonly voices: readonly Voice[];
  private readonly pool: VoicePool;
  private readonly chance: Chance;
  private readonly scatter: Chance;
  private readonly rate: number;
  private readonly randoms = new Float64Array(DRAWS).fill(1, ALTERNATE);
  private readonly scatters = new Float64Array(RANDOMS);
  /** What was read for the voice that begins, and for the layers that find their zones themselves. */
  private readonly values = new Float64Array(STRIKE_VALUES);
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

  constructor(private readonly patch: NotesOwner, { pool, chance, scatter, rate, clock }: Stage) {
    this.clock = clock;
    this.pool = pool;
    this.voices = pool.all;
    this.chance = chance;
    this.scatter = scatter;
    this.rate = rate;
    this.asking = { channel: 1, key: 60, velocity: 100, releaseVelocity: 64, randoms: this.randoms, scatters: this.scatters, states: pool.states, row: pool.askingRow };
  }

  /** The patch has another program. */
  setProgram(): void {
    const { program } = this.patch;
    this.strikes = new Strikes(program.table, program.layers, this.chance, program.zones.count);
    this.releaseStrikes = program.releaseTable && new Strikes(program.releaseTable, program.layers, this.chance, program.zones.count);
    this.ownTransposes = new Float64Array(program.layers.length);
    this.ownTouches = new Uint8Array(program.layers.length);
    this.answerCount = 0;
  }

  private isMine(voice: Voice): boolean {
    return voice.active && voice.layer.patch === this.patch;
  }

  /** Whether a layer hears what comes from an address; a finger of an expressive controller is heard where its zone is. */
  private isOn(listening: number, from: number): boolean {
    const master = this.patch.controllers.masterOf[from];
    return hearsAddress(listening, from) || (master > 0 && hearsAddress(listening, master));
  }

  /** Lets go what a pedal held that its layer no longer listens to. */
  letGoDeaf(): void {
    this.endLifted();
    for (const voice of this.voices) if (this.isMine(voice) && voice.sustained && !voice.layer.program.receive.sustain) this.letGo(voice);
  }

  noteOn(channel: number, key: number, velocity: number): void {
    const { program, layers } = this.patch;
    const at = channel * 128 + key;
    this.struck[at] = velocity;
    const firstOfPhrase = this.goingCount === 0;
    let heard = false;
    for (let l = 0; l < program.layers.length; l++) {
      if (!this.isOn(program.layers[l].channel, channel)) continue;
      layers[l].held[at] |= DOWN;
      heard = true;
    }
    if (heard) this.addGoing(at);
    this.answer(this.strikes, channel, key, velocity, false, firstOfPhrase);
  }

  private addGoing(at: number): void {
    const { going } = this;
    let i = this.goingCount;
    while (i > 0 && going[i - 1] > at) i--;
    if (i > 0 && going[i - 1] === at) return;
    for (let n = this.goingCount++; n > i; n--) going[n] = going[n - 1];
    going[i] = at;
  }

  /** Starts what answers a strike, or the end of a note in the layers where it ends just now. */
  private answer(strikes: Strikes, channel: number, key: number, velocity: number, atEnd: boolean, firstOfPhrase: boolean): void {
    const { asking, patch } = this;
    const { evaluator, layers, program } = patch;
    for (let i = 0; i < RANDOMS; i++) this.randoms[i] = this.chance.share();
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
      if (program.layers[l].own && (atEnd ? layers[l].ending : this.isOn(program.layers[l].channel, channel))) this.findOwn(strikes, l, key, velocity, atEnd);
    }
    const strike = ++this.pool.strikeCount;
    for (let i = 0; i < strikes.count; i++) {
      const l = strikes.layers[i];
      if (atEnd ? layers[l].ending : this.isOn(layers[l].program.channel, channel)) this.startVoice(l, strikes.zones[i], strikes.choices[i], strike);
    }
  }

  /** A layer finds its zones itself: in the sound, at the key and at the velocity that hold for this strike. */
  private findOwn(strikes: Strikes, l: number, key: number, velocity: number, atEnd: boolean): void {
    const program = this.patch.program.layers[l];
    const { values } = this;
    const own = program.own!;
    this.lookFor(program);
    const moved = readStrikeValues(this.patch.evaluator, program, program.voicings[0], values);
    this.ownTransposes[l] = values[TRANSPOSE];
    this.ownTouches[l] = (moved & (1 << TOUCH)) === 0 || program.fixed > 0 ? program.touch[velocity] : feltVelocity(velocity, values[TOUCH], program.outLow, program.outHigh);
    const soundKey = Math.min(127, Math.max(0, key + this.ownTransposes[l]));
    if (program.morph) for (let n = 0; n < own.length; n++) strikes.strikeOwn(l, own[n], n, soundKey, this.ownTouches[l], atEnd);
    else {
      const choice = Math.min(own.length - 1, Math.floor(values[CHOICE] * own.length));
      strikes.strikeOwn(l, own[choice], choice, soundKey, this.ownTouches[l], atEnd);
    }
  }

  /** Reads everything as the strike that is being answered finds it in a layer; its movers begin. */
  private lookFor(program: ProgramLayer): void {
    const { evaluator } = this.patch;
    for (let i = 0; i < RANDOMS; i++) this.scatters[i] = this.scatter.share();
    evaluator.lookLayer(0, program);
    evaluator.beginNote(program, this.asking, this.pool.births + 1);
  }

  private isHeldBy(layer: LayerState, pedal: number): boolean {
    const { receive, channel } = layer.program;
    return receive.sustain && this.patch.controllers.isDown(channel, pedal);
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
    for (let i = 0; i < this.goingCount; ) {
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
      if (anyEnds && this.releaseStrikes) this.answer(this.releaseStrikes, at >> 7, at & 127, this.struck[at], true, false);
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
    const { channel, key, velocity } = asking;
    const { evaluator } = patch;
    const { zones } = patch.program;
    const layer = patch.layers[l];
    const { program } = layer;
    const transpose = program.own ? this.ownTransposes[l] : program.transpose;
    const felt = program.own ? this.ownTouches[l] : program.touch[velocity];
    const soundKey = Math.min(127, Math.max(0, key + transpose));
    const own = zones.windowSet[zone] < 0 ? null : zones.windowSets[zones.windowSet[zone]];
    this.lookFor(program);
    const windowsGain = gainOfZone(zones, zone, soundKey, felt) * evaluator.gainOf(program.windows.atStrike) * (own ? evaluator.gainOf(own.atStrike) : 1);
    // What can never sound does nothing to anybody; what is silent for now takes nobody's place.
    if (windowsGain === 0 || evaluator.isShutFor(program.windows.followed) || (own && evaluator.isShutFor(own.followed))) return;
    const silent = layer.gain === 0 || evaluator.gainOf(program.windows.followed) === 0 || (own !== null && evaluator.gainOf(own.followed) === 0);
    if (zones.chokeGroup[zone] >= 0) this.choke(layer, zones.chokeGroup[zone], strike);
    const voicing = program.voicings[zones.voicing[zone]];
    const moved = readStrikeValues(evaluator, program, voicing, values);
    const isTurned = values[REVERSED] >= 0.5 && zones.turned[zone] >= 0;
    const sample = this.samples[isTurned ? zones.turned[zone] : zones.sample[zone]];
    if (!sample || (silent && pool.isFull)) return;
    const voice = pool.take(strike);
    if (!voice) return;
    voice.layer = layer;
    voice.voicing = voicing;
    voice.channel = channel;
    voice.key = key;
    voice.velocity = velocity;
    voice.releaseVelocity = 64;
    voice.randoms.set(this.randoms);
    voice.scatters.set(this.scatters);
    if (program.ofNote.length > 0 && patch.program.movers.length > 0) pool.states.copyWithin(voice.row, pool.askingRow, pool.askingRow + NOTE_STATE);
    voice.zone = zone;
    voice.born = ++pool.births;
    voice.strike = strike;
    voice.fullLength = zones.fullLength[zone] === 1;
    voice.chokedBy = zones.chokedBy[zone];
    voice.chokedFast = zones.chokedFast[zone] === 1;
    voice.zoneGain = windowsGain * gainOfDb(zones.gainDb[zone]);
    voice.zoneWindows = own && own.followed.length > 0 ? own.followed : null;
    voice.zoneWindowsGain[0] = 1;
    voice.zonePan = zones.pan[zone];
    voice.transpose = transpose;
    voice.zoneSemitones = semitonesOfZone(zones, zone, key + transpose);
    voice.strikeValues.set(values);
    voice.strikeMoved = moved;
    voice.touchMoved = (moved & TOUCH_BITS) !== 0;
    voice.touchGain = voice.touchMoved ? gainOfVelocity(felt, values[VELOCITY_TO_LEVEL]) : voicing.velocityGain[velocity];
    voice.morphs = program.morph ? program.own!.length : 1;
    voice.morph = choice;
    aimVoice(voice, evaluator, patch.controllers);
    voice.waited[1] = this.clock.frame;
    // The next span looks again: more may happen before it.
    voice.epoch = -1;
    const first = isTurned ? zones.frames[zone] - zones.end[zone] : zones.start[zone];
    const end = isTurned ? zones.frames[zone] - zones.start[zone] : zones.end[zone];
    voice.start(sample, values[START] === 0 ? first : Math.floor(first + values[START] * Math.max(0, end - first - 1)), end, this.rate);
    if (zones.loopEnd[zone] > 0) {
      const { frames, loopStart, loopEnd } = zones;
      voice.loopWhileSounding(isTurned ? frames[zone] - loopEnd[zone] : loopStart[zone], isTurned ? frames[zone] - loopStart[zone] : loopEnd[zone], zones.loopCrossfade[zone], zones.loopUntilRelease[zone] === 1);
    }
    this.answers[this.answerCount++ % ANSWERS] = zone;
  }

  /** A strike of a choke group ends what this group ends in the same layer, but nothing of the strike itself. */
  private choke(layer: LayerState, group: number, strike: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.chokedBy !== group || voice.strike === strike) continue;
      if (voice.chokedFast) voice.dismiss(this.rate);
      else this.end(voice);
    }
  }

  /** Ends a voice with its release, held or not. */
  end(voice: Voice): void {
    voice.letEnd();
    this.patch.evaluator.releaseNote(voice);
  }

  noteOff(channel: number, key: number, velocity: number): void {
    this.endKey(channel, key);
    for (const voice of this.voices) {
      if (!this.isMine(voice) || !voice.keyDown || voice.key !== key || voice.channel !== channel) continue;
      voice.releaseVelocity = velocity;
      this.liftKey(voice);
    }
  }

  private liftKey(voice: Voice): void {
    const { program } = voice.layer;
    voice.keyDown = false;
    voice.sustained = program.receive.sustain && this.patch.controllers.isDown(program.channel, CC.sustain);
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
        for (const voice of this.voices) if (this.isMine(voice) && this.isOn(channel, voice.channel)) voice.dismiss(this.rate);
        break;
      // A change of mode ends the notes as well (MIDI 1.0, channel mode messages).
      case CC.allNotesOff: case CC.omniOff: case CC.omniOn: case CC.mono: case CC.poly:
        for (let key = 0; key < 128; key++) this.endKey(channel, key);
        for (const voice of this.voices) if (this.isMine(voice) && voice.channel === channel && voice.keyDown) this.liftKey(voice);
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
            if (this.isMine(voice) && voice.keyDown && this.isOn(voice.layer.program.channel, channel) && hears(voice.layer.program, controller)) voice.caught = true;
          }
        } else if (controller === CC.sustain || controller === CC.sostenuto) this.liftPedals();
      }
    }
  }

  /** The sostenuto pedal takes hold of the notes whose keys are down. */
  private catchNotes(): void {
    const { layers, program } = this.patch;
    for (let l = 0; l < program.layers.length; l++) {
      const layer = layers[l];
      if (!this.isHeldBy(layer, CC.sostenuto)) continue;
      for (let i = 0; i < this.goingCount; i++) if ((layer.held[this.going[i]] & DOWN) !== 0) layer.held[this.going[i]] |= CAUGHT;
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
    this.patch.counted.clear();
    this.patch.evaluator.allUp();
    for (const voice of this.voices) {
      if (!this.isMine(voice)) continue;
      voice.keyDown = voice.sustained = voice.caught = false;
      voice.dismiss(this.rate);
    }
  }
}

const TOUCH_BITS = (1 << TOUCH) | (1 << VELOCITY_TO_LEVEL);
