import { Chance } from '../dsp/chance';
import { dbOfGain } from '../music/pitch';
import { fromNormal, LAYER_PARAMETERS } from '../rig/parameters';
import { parseSource, type SourceId } from '../space/source';
import { CHANNELS, Controllers } from './controllers';
import { Evaluator, RANDOMS } from './evaluate';
import { MOVED_PARAMETERS, type Program, type WindowSet } from './program';
import { gainOfZone, semitonesOfZone, Strikes } from './strike';

/** One zone that answers a strike. `gain` is the product of the windows of zone and layer, `semitones` the distance from the sample's own pitch. */
export interface Sounding { layer: number; zone: number; sampleId: string; gain: number; gainDb: number; touchDb: number; semitones: number; pan: number }

export interface ResolveOptions {
  /** Source values set beforehand: cc.N, macro.N, bend, channelPressure. */
  set?: ReadonlyMap<SourceId, number>;
  repeat?: number;
  seed?: number;
  /** MIDI channel 1…16 of the strikes. */
  channel?: number;
}

/**
 * What sounds for a strike, by the same tables, windows, routes and chance as the engine's, without any audio. One list for each repetition.
 * Silent answers (gain 0) and muted layers are left out. Throws a RangeError for a source that cannot be set.
 */
export function resolveStrikes(program: Program, key: number, velocity: number, { set = new Map(), repeat = 1, seed = 1, channel = 1 }: ResolveOptions = {}): Sounding[][] {
  const controllers = new Controllers();
  for (const [id, value] of set) setSource(controllers, id, value, key);
  const chance = new Chance(seed);
  const strikes = new Strikes(program.table, program.layers, chance);
  const evaluator = new Evaluator(program, controllers);
  const results: Sounding[][] = [];
  for (let n = 0; n < repeat; n++) {
    const randoms = Float64Array.from({ length: RANDOMS }, () => chance.share());
    const note = { channel, key, velocity, releaseVelocity: 64, randoms };
    strikes.strike(key, velocity);
    const answers: Sounding[] = [];
    for (let i = 0; i < strikes.count; i++) {
      const layer = program.layers[strikes.layers[i]];
      if (!layer.on || (layer.channel !== 0 && layer.channel !== channel)) continue;
      const zone = strikes.zones[i];
      const { zones } = program;
      evaluator.look(layer, note);
      const soundKey = Math.min(127, Math.max(0, key + layer.transpose));
      const own = zones.windowSets[zones.windowSet[zone]];
      const voicing = layer.voicings[zones.voicing[zone]];
      const gain = gainOfSet(evaluator, layer.windows) * gainOfZone(zones, zone, soundKey, layer.touch[velocity]) * (own ? gainOfSet(evaluator, own) : 1);
      if (gain === 0) continue;
      const moved = (id: (typeof MOVED_PARAMETERS)[number]) => {
        const p = MOVED_PARAMETERS.indexOf(id);
        return fromNormal(LAYER_PARAMETERS[id], evaluator.moved(voicing.baseNormals[p], layer.routes[p]));
      };
      const bend = layer.receive.bend ? controllers.bend[layer.channel] * voicing.bendRange : 0;
      answers.push({
        layer: strikes.layers[i], zone, sampleId: program.samples[zones.sample[zone]].sampleId,
        gain, gainDb: dbOfGain(gain), touchDb: dbOfGain(voicing.velocityGain[velocity]),
        semitones: semitonesOfZone(zones, zone, key + layer.transpose) + moved('tune') / 100 + bend,
        pan: Math.max(-1, Math.min(1, moved('pan') + zones.pan[zone])),
      });
    }
    results.push(answers);
  }
  return results;
}

/** Keys of all the samples that may answer a strike, whatever the controllers and alternates do. */
export function samplesOfStrike({ table, zones, sampleKeys }: Program, key: number, velocity: number): string[] {
  const cell = table.cellOf[key * 128 + velocity];
  const found = new Set<string>();
  for (let i = table.slotStart[table.cellStart[cell]]; i < table.slotStart[table.cellStart[cell + 1]]; i++) found.add(sampleKeys[zones.sample[table.slotZone[i]]]);
  return [...found];
}

const gainOfSet = (evaluator: Evaluator, { atStrike, followed }: WindowSet): number => evaluator.gainOf(atStrike) * evaluator.gainOf(followed);

/** A source is put there on every channel: whoever asks does not know which of them a layer hears. */
function setSource(controllers: Controllers, id: SourceId, value: number, key: number): void {
  const source = parseSource(id);
  if (!source) throw new RangeError(`"${id}" names no source`);
  if (!(value >= source.low && value <= source.high)) throw new RangeError(`${id}: ${value} is outside ${source.low} to ${source.high}`);
  switch (source.kind) {
    case 'cc': for (let channel = 1; channel < CHANNELS; channel++) controllers.setController(channel, source.index, value); break;
    case 'macro': controllers.macros[source.index] = value; break;
    case 'bend': for (let channel = 1; channel < CHANNELS; channel++) controllers.setBend(channel, value); break;
    case 'channelPressure': for (let channel = 1; channel < CHANNELS; channel++) controllers.setChannelPressure(channel, value); break;
    case 'pressure': for (let channel = 1; channel < CHANNELS; channel++) controllers.setKeyPressure(channel, key, value); break;
    default: throw new RangeError(`${id} cannot be set: it comes with each strike`);
  }
}
