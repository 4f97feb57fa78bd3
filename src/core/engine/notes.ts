import type { Chance } from '../dsp/chance';
import type { PreparedSample } from '../dsp/sample';
import { CC } from '../music/midi';
import { gainOfDb } from '../music/pitch';
import { aimVoice } from './aim';
import { CHANNELS, type Controllers } from './controllers';
import { hears, RANDOMS, type NoteValues } from './evaluate';
import { CAUGHT, DOWN, SUSTAINED, type LayerState } from './layerState';
import type { PlayedProgram } from './program';
import { gainOfZone, semitonesOfZone, Strikes } from './strike';
import { ANSWERS } from './tick';
import type { Voice } from './voice';
import type { VoicePool } from './voicePool';

/** Keys and pedals: who starts a voice, and who lets it go. */
export class Notes {
  /** What the program plays, by place; undefined while it has not arrived. */
  samples: (PreparedSample | undefined)[] = [];
  /** Zones that answered since the program came, as places in it: the last {@link ANSWERS}, and how many there were. */
  readonly answers = new Uint32Array(ANSWERS);
  answerCount = 0;
  private program: PlayedProgram | null = null;
  /** The layers of the program, in its order; others may follow. */
  private layers: readonly LayerState[] = [];
  private strikes: Strikes | null = null;
  private releaseStrikes: Strikes | null = null;
  private readonly voices: readonly Voice[];
  private readonly randoms = new Float64Array(RANDOMS);
  /** By channel and key: velocity of the last strike, which is that of the release zones. */
  private readonly struck = new Uint8Array(CHANNELS * 128);
  /** The strike that is being answered. */
  private readonly asking: NoteValues = { channel: 1, key: 60, velocity: 100, releaseVelocity: 64, randoms: this.randoms };
  private births = 0;
  private strikeCount = 0;

  constructor(private readonly controllers: Controllers, private readonly pool: VoicePool, private readonly chance: Chance, private readonly rate: number) {
    this.voices = pool.all;
  }

  setProgram(program: PlayedProgram, layers: readonly LayerState[]): void {
    this.program = program;
    this.layers = layers;
    this.strikes = new Strikes(program.table, program.layers, this.chance);
    this.releaseStrikes = program.releaseTable && new Strikes(program.releaseTable, program.layers, this.chance);
    this.answerCount = 0;
  }

  /** Lets go what a pedal held that its layer no longer listens to. */
  letGoDeaf(): void {
    this.endLifted();
    for (const voice of this.voices) if (voice.active && voice.sustained && !voice.layer.program.receive.sustain) this.letGo(voice);
  }

  noteOn(channel: number, key: number, velocity: number): void {
    const { program, strikes } = this;
    if (!program || !strikes) return;
    const at = channel * 128 + key;
    this.struck[at] = velocity;
    for (let l = 0; l < program.layers.length; l++) if (isOn(program.layers[l].channel, channel)) this.layers[l].held[at] |= DOWN;
    this.answer(strikes, channel, key, velocity, false);
  }

  /** Starts what answers a strike, or the end of a note in the layers where it ends just now. */
  private answer(strikes: Strikes, channel: number, key: number, velocity: number, atEnd: boolean): void {
    const { asking } = this;
    for (let i = 0; i < RANDOMS; i++) this.randoms[i] = this.chance.share();
    strikes.strike(key, velocity);
    const strike = ++this.strikeCount;
    asking.channel = channel;
    asking.key = key;
    asking.velocity = velocity;
    for (let i = 0; i < strikes.count; i++) {
      const layer = this.layers[strikes.layers[i]];
      if (atEnd ? layer.ending : isOn(layer.program.channel, channel)) this.startVoice(layer, strikes.zones[i], strike);
    }
  }

  private isHeldBy(layer: LayerState, pedal: number): boolean {
    const { receive, channel } = layer.program;
    return receive.sustain && this.controllers.isDown(channel, pedal);
  }

  /** A key goes up: its note ends in the layers where no pedal holds it, and their release zones answer. */
  private endKey(channel: number, key: number): void {
    const at = channel * 128 + key;
    const count = this.program ? this.program.layers.length : 0;
    let anyEnds = false;
    for (let l = 0; l < count; l++) {
      const layer = this.layers[l];
      const before = layer.held[at];
      layer.held[at] = (before & ~DOWN) | ((before & DOWN) !== 0 && this.isHeldBy(layer, CC.sustain) ? SUSTAINED : 0);
      layer.ending = before !== 0 && layer.held[at] === 0;
      anyEnds ||= layer.ending;
    }
    if (anyEnds && this.releaseStrikes) this.answer(this.releaseStrikes, channel, key, this.struck[at], true);
  }

  /** Notes end whose keys are up, in the layers whose pedals have come up. */
  private endLifted(): void {
    const count = this.program ? this.program.layers.length : 0;
    for (let at = 0; at < CHANNELS * 128; at++) {
      let anyEnds = false;
      for (let l = 0; l < count; l++) {
        const layer = this.layers[l];
        const before = layer.held[at];
        layer.ending = false;
        if ((before & (SUSTAINED | CAUGHT)) === 0) continue;
        if ((before & SUSTAINED) !== 0 && !this.isHeldBy(layer, CC.sustain)) layer.held[at] &= ~SUSTAINED;
        if ((before & CAUGHT) !== 0 && !this.isHeldBy(layer, CC.sostenuto)) layer.held[at] &= ~CAUGHT;
        layer.ending = layer.held[at] === 0;
        anyEnds ||= layer.ending;
      }
      if (anyEnds && this.releaseStrikes) this.answer(this.releaseStrikes, at >> 7, at & 127, this.struck[at], true);
    }
  }

  /** Notes are forgotten without an end that anything could answer. */
  private forgetNotes(channel: number): void {
    for (const layer of this.layers) layer.held.fill(0, channel * 128, channel * 128 + 128);
  }

  private startVoice(layer: LayerState, zone: number, strike: number): void {
    const { asking } = this;
    const { channel, key, velocity } = asking;
    const { zones } = this.program!;
    const sample = this.samples[zones.sample[zone]];
    const { program } = layer;
    const evaluator = layer.evaluator!;
    const soundKey = Math.min(127, Math.max(0, key + program.transpose));
    const own = zones.windowSet[zone] < 0 ? null : zones.windowSets[zones.windowSet[zone]];
    evaluator.look(program, asking);
    const windowsGain = gainOfZone(zones, zone, soundKey, program.touch[velocity]) * evaluator.gainOf(program.windows.atStrike) * (own ? evaluator.gainOf(own.atStrike) : 1);
    // What can never sound does nothing to anybody; what is silent for now takes nobody's place.
    if (windowsGain === 0 || evaluator.isShutFor(program.windows.followed) || (own && evaluator.isShutFor(own.followed))) return;
    const silent = layer.gain === 0 || evaluator.gainOf(program.windows.followed) === 0 || (own !== null && evaluator.gainOf(own.followed) === 0);
    if (zones.chokeGroup[zone] >= 0) this.choke(layer, zones.chokeGroup[zone], strike);
    if (!sample || (silent && this.pool.isFull)) return;
    const voice = this.pool.take(strike);
    if (!voice) return;
    voice.layer = layer;
    voice.voicing = program.voicings[zones.voicing[zone]];
    voice.channel = channel;
    voice.key = key;
    voice.velocity = velocity;
    voice.releaseVelocity = 64;
    voice.randoms.set(this.randoms);
    voice.zone = zone;
    voice.born = ++this.births;
    voice.strike = strike;
    voice.fullLength = zones.fullLength[zone] === 1;
    voice.chokedBy = zones.chokedBy[zone];
    voice.chokedFast = zones.chokedFast[zone] === 1;
    voice.zoneGain = windowsGain * gainOfDb(zones.gainDb[zone]);
    voice.zoneWindows = own && own.followed.length > 0 ? own.followed : null;
    voice.zoneWindowsGain[0] = 1;
    voice.zonePan = zones.pan[zone];
    voice.zoneSemitones = semitonesOfZone(zones, zone, key + program.transpose);
    aimVoice(voice, this.controllers);
    // The next span looks again: more may happen before it.
    voice.epoch = -1;
    voice.start(sample, zones.start[zone], zones.end[zone], this.rate);
    if (zones.loopEnd[zone] > 0) voice.loopWhileSounding(zones.loopStart[zone], zones.loopEnd[zone], zones.loopCrossfade[zone], zones.loopUntilRelease[zone] === 1);
    this.answers[this.answerCount++ % ANSWERS] = zone;
  }

  /** A strike of a choke group ends what this group ends in the same layer, but nothing of the strike itself. */
  private choke(layer: LayerState, group: number, strike: number): void {
    for (const voice of this.voices) {
      if (!voice.active || voice.layer !== layer || voice.chokedBy !== group || voice.strike === strike) continue;
      if (voice.chokedFast) voice.dismiss(this.rate);
      else voice.letEnd();
    }
  }

  noteOff(channel: number, key: number, velocity: number): void {
    this.endKey(channel, key);
    for (const voice of this.voices) {
      if (!voice.active || !voice.keyDown || voice.key !== key || voice.channel !== channel) continue;
      voice.releaseVelocity = velocity;
      this.liftKey(voice);
    }
  }

  private liftKey(voice: Voice): void {
    const { program } = voice.layer;
    voice.keyDown = false;
    voice.sustained = program.receive.sustain && this.controllers.isDown(program.channel, CC.sustain);
    this.letGo(voice, voice.sustained);
  }

  /** Releases a voice that neither its key nor a pedal holds. */
  private letGo(voice: Voice, sustained = false): void {
    voice.sustained = sustained;
    if (!voice.keyDown && !sustained && !voice.caught && !voice.released) voice.release();
  }

  control(channel: number, controller: number, value: number): void {
    const { controllers } = this;
    switch (controller) {
      case CC.allSoundOff:
        this.forgetNotes(channel);
        for (const voice of this.voices) if (voice.active && voice.channel === channel) voice.dismiss(this.rate);
        break;
      // A change of mode ends the notes as well (MIDI 1.0, channel mode messages).
      case CC.allNotesOff: case CC.omniOff: case CC.omniOn: case CC.mono: case CC.poly:
        for (let key = 0; key < 128; key++) this.endKey(channel, key);
        for (const voice of this.voices) if (voice.active && voice.channel === channel && voice.keyDown) this.liftKey(voice);
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
            if (voice.active && voice.keyDown && listens(voice, channel) && hears(voice.layer.program, controller)) voice.caught = true;
          }
        } else if (controller === CC.sustain || controller === CC.sostenuto) this.liftPedals();
      }
    }
  }

  /** The sostenuto pedal takes hold of the notes whose keys are down. */
  private catchNotes(): void {
    const count = this.program ? this.program.layers.length : 0;
    for (let l = 0; l < count; l++) {
      const layer = this.layers[l];
      if (!this.isHeldBy(layer, CC.sostenuto)) continue;
      for (let at = 0; at < CHANNELS * 128; at++) if ((layer.held[at] & DOWN) !== 0) layer.held[at] |= CAUGHT;
    }
  }

  /** Lets go what pedals held that are up by now. */
  private liftPedals(): void {
    this.endLifted();
    for (const voice of this.voices) {
      if (!voice.active || (!voice.sustained && !voice.caught)) continue;
      const { channel } = voice.layer.program;
      if (!this.controllers.isDown(channel, CC.sostenuto)) voice.caught = false;
      this.letGo(voice, voice.sustained && this.controllers.isDown(channel, CC.sustain));
    }
  }

  panic(): void {
    for (let channel = 0; channel <= 16; channel++) {
      this.forgetNotes(channel);
      this.controllers.reset(channel);
    }
    for (const voice of this.voices) {
      if (!voice.active) continue;
      voice.keyDown = voice.sustained = voice.caught = false;
      voice.dismiss(this.rate);
    }
  }
}

/** Whether a layer that hears a channel (0: any) hears this one. */
const isOn = (hears: number, channel: number): boolean => hears === 0 || hears === channel;

const listens = (voice: Voice, channel: number): boolean => isOn(voice.layer.program.channel, channel);

