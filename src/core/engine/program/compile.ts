import { COMB_FORWARD } from '../../space/filterKinds';
import { soundsOf } from '../../rig/defaults';
import { KNOB_PARAMETERS, MAIN_PARAMETERS, toNormal } from '../../rig/parameters';
import { A4_HZ, EQUAL, tunedKeys, type TunedKeys } from '../../music/tunings';
import type { Patch, Rig, RigPitch, Sample, Sound, Zone } from '../../rig/schema';
import { dissolveGroups } from './compile/groups';
import { compileMix } from './compile/mix';
import { kindOf, specsOf, withZones, type CompiledSound } from './compile/kinds';
import { compileLayer, findsItself, isEmpty, keyOfValues, ownTable, type ValueSet } from './compile/layers';
import { moversOf, padsOf } from './compile/movers';
import { slotsOf, type Slots } from './compile/slots';
import { columnsOf, reachOf } from './compile/zones';
import { windowsAsPlayed } from './compile/windows';
import { impulseKey, type Program, type SampleRequest } from './program';
import { effectsIn } from '../../rig/mix';
import { buildStrikeTable } from './strikeTable';

export { gainOfVelocity, touchTable } from './touch';
export { LOWEST_ENGINE_RATE } from './compile/zones';

/** What compiling looks at besides the patch. */
export interface CompileContext {
  sounds: readonly Sound[];
  samples: readonly Sample[];
  /** The learned range of the controller, for formulas. */
  keyLow: number;
  keyHigh: number;
  /** Names of the ports that layers tell apart, in the order of their numbers; none: every layer hears all. */
  ports?: readonly string[];
  /** Zones of an expressive controller, whose fingers bend on their own. */
  mpe?: { lower: number; upper: number; bendRange: number };
  /** What everything is tuned to; absent: equal semitones around 440 Hz. */
  pitch?: RigPitch;
  /** Ids of the pairs of outputs, the one that main goes to first; none: there is that one. */
  pairs?: readonly string[];
  /** Frames in a second of the engine's output; absent: {@link LOWEST_ENGINE_RATE} or more. */
  rate?: number;
}

/** What compiling looks at of a rig, besides the patch. */
const PARTS = ['sounds', 'samples', 'controllers', 'pitch', 'pairs'] as const satisfies readonly (keyof Rig)[];
export type CompiledIn = Pick<Rig, (typeof PARTS)[number]>;

/** What a rig is compiled in: the one place that knows all that belongs to it. */
export const contextOf = (
  { sounds, samples, controllers, pitch, pairs }: CompiledIn,
  rate?: number,
): CompileContext => ({
  sounds,
  samples,
  pitch,
  pairs: pairs.map(({ id }) => id),
  ...controllers,
  rate,
});

/** Whether a patch has the same program in both. */
export const isSameContext = (a: CompiledIn, b: CompiledIn): boolean => PARTS.every((part) => a[part] === b[part]);

/** What keys are tuned to by what is said nearest; null where it changes nothing. */
const tunedIn = (own: Patch['tuning'], { a4 }: Patch, pitch: RigPitch | undefined): TunedKeys | null =>
  tunedKeys(own ?? pitch?.tuning ?? EQUAL, a4 ?? pitch?.a4 ?? A4_HZ);

/**
 * The program of a patch. Pure; throws a CycleError when routes move each other in a circle.
 * A layer whose sound is missing stays silent, it does not stop the others.
 */
export function compile(whole: Patch, context: CompileContext): Program {
  const { patch, offsets } = dissolveGroups(whole);
  const wanted = new Set(patch.layers.flatMap((layer) => soundsOf(layer)));
  const soundById = new Map(
    context.sounds.flatMap((sound): [string, CompiledSound][] =>
      wanted.has(sound.id) ? [[sound.id, withZones(sound)]] : [],
    ),
  );
  const sounds = [
    ...new Set(
      patch.layers.flatMap((layer) =>
        soundsOf(layer)
          .map((id) => soundById.get(id))
          .filter((sound) => sound !== undefined),
      ),
    ),
  ];
  const { mpe = { lower: 0, upper: 0, bendRange: 0 }, ports = [] } = context;
  const bendOfNote = mpe.lower + mpe.upper > 0;
  const slots = slotsOf(patch, sounds, { ...context, bendOfNote });
  const { sets, placeOf, usedBy } = valueSetsOf(sounds);
  const { specs, specOf, requests } = specsOf(sounds, patch);
  const tuned = patch.layers.map((layer) =>
    layer.staysEqual ? null : tunedIn(layer.tuning ?? patch.tuning, patch, context.pitch),
  );
  const { zones, samples, firstZone } = columnsOf(
    sounds,
    patch,
    { ...context, tuned, farBend: bendOfNote ? mpe.bendRange : 0 },
    placeOf,
    slots.slotOf,
    specOf,
  );
  const layers = patch.layers.map((layer, l) => {
    const mine = soundsOf(layer).map((id) => soundById.get(id));
    const own = findsItself(layer, patch)
      ? mine.map((sound) => ownTable(sound, sound ? firstZone.get(sound.id)! : 0))
      : null;
    return compileLayer(
      layer,
      tuned[l],
      mine,
      sets,
      new Set(mine.flatMap((sound) => (sound ? [...usedBy.get(sound.id)!] : []))),
      ports,
      slots,
      own,
      offsets.get(layer.id),
    );
  });
  whole.layers.forEach(({ groupId }, l) => {
    const pad = groupId === null ? -1 : whole.groups.findIndex(({ id }) => id === groupId);
    if (pad >= 0) {
      layers[l].pad = pad;
      layers[l].choke = whole.groups[pad].choke;
    }
  });
  const tableOf = (trigger: Zone['trigger']) =>
    buildStrikeTable(
      patch.layers.map((layer, i) => {
        const sound = layers[i].own ? undefined : soundById.get(layer.soundId);
        return {
          layer: { ...layer, windows: windowsAsPlayed(layer) },
          touch: layers[i].touch,
          zones: sound?.zones ?? [],
          firstZone: sound ? firstZone.get(sound.id)! : 0,
        };
      }),
      trigger,
    );
  const hasReleases = sounds.some((sound) => sound.zones.some((zone) => zone.trigger === 'release'));
  // What effects work with comes with the samples.
  const impulses = [
    ...new Set(effectsIn(whole).flatMap(({ effect }) => (effect.sampleId === null ? [] : [effect.sampleId]))),
  ];
  samples.push(
    ...impulses.map((sampleId): SampleRequest => ({
      key: impulseKey(sampleId),
      sampleId,
      loop: null,
      reverse: false,
      levels: 1,
    })),
  );
  // Waves are not played as samples are, but made ready as they are.
  samples.push(...requests);
  const movers = moversOf(patch, slots);
  const mainRoutes = slots.routesTo('main.level');
  const moves = slots.slots.some((slot) => !slot.ofNote && slot.moving) || patch.xyPads.length > 0;
  return {
    patchId: patch.id,
    name: patch.name,
    tempo: patch.tempo,
    mpe: { ...mpe, ports: ports.length },
    sources: slots.slots,
    movers,
    pads: padsOf(patch, slots),
    layers,
    table: tableOf('attack'),
    releaseTable: hasReleases ? tableOf('release') : null,
    zones,
    samples,
    sampleKeys: samples.map(({ key }) => key),
    specs,
    waveKeys: requests.map(({ key }) => key),
    sounds: sounds.map(({ id }) => ({ soundId: id, first: firstZone.get(id)! })),
    main: { baseNormal: toNormal(MAIN_PARAMETERS.level, patch.main.level), routes: mainRoutes },
    knobs: compileKnobs(patch, slots),
    mix: compileMix(
      { ...whole, routes: patch.routes },
      slots,
      tunedIn(patch.tuning, patch, context.pitch),
      context.pairs,
    ),
    shared: moves ? slots.slots.flatMap((slot, i) => (slot.ofNote ? [] : [i])) : [],
    combs: patch.layers.some((layer) =>
      (['filterKind', 'filter2Kind'] as const).some((id) => reachOf(layer, id, patch).high >= COMB_FORWARD),
    ),
    follows: movers.some((mover) => mover.follows > -2),
  };
}

function compileKnobs({ knobs }: Patch, slots: Slots): Program['knobs'] {
  const routes = knobs.map(({ id }) => slots.routesTo(`knob.${id}.value`));
  return {
    rests: Float64Array.from(knobs, ({ value }) => toNormal(KNOB_PARAMETERS.value, value)),
    routes,
    moves: routes.some((list) => list.length > 0),
  };
}

/**
 * The different sets of values that zones have of their own, the empty one first; the set of each zone, and those that
 * each sound uses.
 */
function valueSetsOf(sounds: readonly CompiledSound[]): {
  sets: ValueSet[];
  placeOf: (sound: CompiledSound, zone: number) => number;
  usedBy: Map<string, Set<number>>;
} {
  const places = new Map<string, number>([['', 0]]);
  const sets: ValueSet[] = [{ kind: 0, params: {}, ofSound: {} }];
  const usedBy = new Map<string, Set<number>>();
  const ofZone = new Map<CompiledSound, number[]>();
  for (const sound of sounds) {
    const list = sound.zones.map(({ params }) => {
      const kind = kindOf(sound);
      if (kind === 0 && isEmpty(params) && isEmpty(sound.params)) return 0;
      const set = { kind, params, ofSound: sound.params };
      const key = keyOfValues(set);
      let place = places.get(key);
      if (place === undefined) {
        places.set(key, (place = sets.length));
        sets.push(set);
      }
      return place;
    });
    ofZone.set(sound, list);
    usedBy.set(sound.id, new Set(list));
  }
  return { sets, placeOf: (sound, zone) => ofZone.get(sound)![zone], usedBy };
}
