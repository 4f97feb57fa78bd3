import { LineError } from './lineError';
import { ValidationError, type Schema } from 'yup';
import { surelyPasses } from './fastCheck';
import { newClick, newControllers, newEntry, newPairs, newPath, newPitch, newWaves } from './defaults';
import { brokenLink } from './links';
import { patchSchema, rigSchema, sampleSchema, soundSchema, zoneSchema, type Rig } from './schema';
import { MOST_ENTRIES, RIG_VERSION } from './limits';

/**
 * Refused: a file that is not a rig, or one with a fault. `place` is a path such as
 * `patches[1].layers[0].windows[0].high`, empty for the whole.
 */
export class RigError extends LineError {}

type Json = Record<string, unknown>;
/**
 * Each entry makes a rig of its version into one of the next, for example `1: (rig) => ({ ...rig, version: 2, groups:
 * [] })`.
 */
export type Migrations = Record<number, (rig: Json) => Json>;
export const MIGRATIONS: Migrations = {
  // Zones learned windows on further sources, release triggers, choke groups, pitch per key, loop crossfades and values
  // of their own.
  1: (rig) => ({
    ...rig,
    version: 2,
    sounds: mapped(rig.sounds, (sound) => ({
      ...sound,
      zones: mapped(sound.zones, (zone) => ({
        windows: [],
        trigger: 'attack',
        choke: null,
        pitchPerKey: 100,
        params: {},
        ...zone,
        loop: isTable(zone.loop) ? { crossfade: 0, until: 'end', ...zone.loop } : zone.loop,
      })),
    })),
  }),
  // Windows learned to be read at the strike alone, rounds of alternates to have silent turns.
  2: (rig) => ({
    ...rig,
    version: 3,
    patches: mapped(rig.patches, (patch) => ({ ...patch, layers: mapped(patch.layers, withReadWindows) })),
    sounds: mapped(rig.sounds, (sound) => ({
      ...sound,
      zones: mapped(sound.zones, (zone) => withReadWindows({ turns: null, ...zone })),
    })),
  }),
  // Patches learned movers, XY pads and pages of macros, layers lists of sounds and ports, routes bounds; controllers
  // what can be learned of them.
  3: (rig) => ({
    ...rig,
    version: 4,
    patches: mapped(rig.patches, withMoves),
    controllers: isTable(rig.controllers) ? { ...newControllers(), ...rig.controllers } : rig.controllers,
  }),
  // Layers learned to stand in groups, what becomes of a note between key and sound, and to hear the sostenuto pedal
  // apart from the sustain pedal.
  4: (rig) => ({
    ...rig,
    version: 5,
    patches: mapped(rig.patches, withPaths),
    sounds: mapped(rig.sounds, (sound) => ({ tags: [], favourite: false, ...sound })),
  }),
  // Patches learned effects, shared effects and connections, takes of their own and backing.
  5: (rig) => ({
    ...rig,
    version: 6,
    patches: mapped(rig.patches, (patch) => ({
      ...withMix(patch),
      versions: mapped(patch.versions, (version) =>
        isTable(version.patch) ? { ...version, patch: withMix(version.patch) } : version,
      ),
    })),
  }),
  // Sounds learned to be oscillators, and grains, zones to fade at their ends, patches to keep what chance drew.
  6: (rig) => ({
    ...rig,
    version: 7,
    patches: mapped(rig.patches, (patch) => ({
      ...withDraws(patch),
      versions: mapped(patch.versions, (version) =>
        isTable(version.patch) ? { ...version, patch: withDraws(version.patch) } : version,
      ),
    })),
    sounds: mapped(rig.sounds, (sound) => ({
      notes: '',
      params: {},
      waves: newWaves(),
      shape: [],
      ...sound,
      zones: mapped(sound.zones, (zone) => ({ fadeIn: 0, fadeOut: 0, ...zone })),
    })),
  }),
  // Rigs learned several setlists with songs and pauses, controllers to choose what plays, layers not to go along with
  // a transposition.
  7: (rig) => ({
    ...rig,
    version: 8,
    ...setlistsOf(rig.setlist, rig.patches),
    patches: mapped(rig.patches, (patch) => ({
      ...withSongs(patch),
      versions: mapped(patch.versions, (version) =>
        isTable(version.patch) ? { ...version, patch: withSongs(version.patch) } : version,
      ),
    })),
    controllers: isTable(rig.controllers)
      ? { programs: 'off', programChannel: 0, ...rig.controllers }
      : rig.controllers,
  }),
  // Rigs learned what was said of findings, layers what they are for.
  8: (rig) => ({
    ...rig,
    version: 9,
    checks: { thresholds: {}, aside: [] },
    patches: mapped(rig.patches, (patch) => ({
      ...withRoles(patch),
      versions: mapped(patch.versions, (version) =>
        isTable(version.patch) ? { ...version, patch: withRoles(version.patch) } : version,
      ),
    })),
  }),
  // Rigs learned concert pitch and tunings.
  9: (rig) => ({
    ...rig,
    version: 10,
    pitch: newPitch(),
    patches: mapped(rig.patches, (patch) => ({
      ...withTunings(patch),
      versions: mapped(patch.versions, (version) =>
        isTable(version.patch) ? { ...version, patch: withTunings(version.patch) } : version,
      ),
    })),
  }),
  // Entries of setlists learned pages for the player.
  10: (rig) => ({
    ...rig,
    version: 11,
    setlists: mapped(rig.setlists, (setlist) => ({
      ...setlist,
      entries: mapped(setlist.entries, (entry) => ({ page: '', ...entry })),
    })),
  }),
  // Patches learned a concert pitch of their own, rigs pairs of outputs, a click, and instruments outside, which had been an output and a channel of each layer.
  11: withInstruments,
  // A control can be learned that makes this machine lead.
  12: (rig) => ({ ...rig, version: 13 }),
};

/** Each output and channel that a layer of the rig plays to becomes an instrument. */
function withInstruments(rig: Json): Json {
  const instruments: Json[] = [];
  const idOf = (output: unknown, channel: unknown): string | null => {
    if (typeof output !== 'string' || output === '') return null;
    const known = instruments.find((each) => each.output === output && each.channel === channel);
    if (known) return known.id as string;
    const id = `outside-${instruments.length + 1}`;
    const taken = instruments.some((each) => each.output === output);
    const name = taken ? `${output.slice(0, 180)}, channel ${String(channel)}` : output;
    instruments.push({ id, name, output, channel: channel ?? 1, clock: false, asks: false });
    return id;
  };
  const content = (patch: Json): Json => ({
    a4: null,
    told: [],
    knobs: [],
    ...patch,
    backing: mapped(patch.backing, (backing) => ({ pair: null, ...backing })),
    layers: mapped(patch.layers, (layer) => {
      if (!isTable(layer.path)) return layer;
      const { output, outputChannel, ...path } = layer.path;
      return { ...layer, path: { instrument: idOf(output, outputChannel), ...path } };
    }),
  });
  const patches = mapped(rig.patches, (patch) => ({
    ...content(patch),
    versions: mapped(patch.versions, (version) =>
      isTable(version.patch) ? { ...version, patch: content(version.patch) } : version,
    ),
  }));
  return { instruments, pairs: newPairs(), click: newClick(), ...rig, version: 12, patches };
}

const withTunings = (patch: Json): Json => ({
  tuning: null,
  ...patch,
  layers: mapped(patch.layers, (layer) => ({ tuning: null, staysEqual: false, ...layer })),
});

const withRoles = (patch: Json): Json => ({
  ...patch,
  layers: mapped(patch.layers, (layer) => ({ role: 'unsaid', ...layer })),
});

/** The one list of patches that rigs had, as a setlist; what it names that is not there is left out. */
function setlistsOf(list: unknown, patches: unknown): Json {
  const there = new Set(
    Array.isArray(patches) ? patches.map((patch: unknown) => (isTable(patch) ? patch.id : undefined)) : [],
  );
  const ids = Array.isArray(list)
    ? list.filter((each) => typeof each === 'string' && there.has(each)).slice(0, MOST_ENTRIES)
    : [];
  const entries = ids.map((patchId, n) => newEntry(`entry-${n + 1}`, 'patch', [patchId as string]));
  return { setlists: [{ id: 'show', name: 'Show', notes: '', entries }], setlist: 'show' };
}

/** Pads stay when a song is transposed. */
const withSongs = (patch: Json): Json => ({
  ...patch,
  layers: mapped(patch.layers, (layer) => ({
    ...layer,
    receive: isTable(layer.receive) ? { song: true, ...layer.receive } : layer.receive,
  })),
  groups: mapped(patch.groups, (group) => ({
    ...group,
    receive: isTable(group.receive) ? { song: !isOnOneKey(group.windows), ...group.receive } : group.receive,
  })),
});
const isOnOneKey = (windows: unknown): boolean =>
  Array.isArray(windows) &&
  windows.some((window: unknown) => isTable(window) && window.source === 'key' && window.low === window.high);

const withDraws = (patch: Json): Json => ({
  draws: [],
  drawn: null,
  locks: [],
  ...patch,
  layers: mapped(patch.layers, (layer) => ({ kept: null, ...layer })),
});

const withMix = (patch: Json): Json => ({
  pools: [],
  connections: [],
  front: [],
  takes: [],
  backing: [],
  ...patch,
  layers: mapped(patch.layers, (layer) => ({ effects: [], ...layer })),
  groups: mapped(patch.groups, (group) => ({ effects: [], ...group })),
  main: isTable(patch.main) ? { width: 100, effects: [], ...patch.main } : patch.main,
});

const withPaths = (patch: Json): Json => ({
  groups: [],
  versions: [],
  version: null,
  ...patch,
  layers: mapped(patch.layers, (layer) => ({
    path: newPath(),
    groupId: null,
    ...layer,
    receive: isTable(layer.receive)
      ? { sostenuto: layer.receive.sustain ?? true, program: false, ...layer.receive }
      : layer.receive,
  })),
});

const withMoves = (patch: Json): Json => ({
  macroPages: [],
  xyPads: [],
  movers: [],
  ...patch,
  macros: mapped(patch.macros, (macro) => ({ style: 'strip', ...macro })),
  routes: mapped(patch.routes, (route) => ({ bound: false, counts: 'last', ...route })),
  layers: mapped(patch.layers, (layer) => ({
    list: [],
    morph: false,
    showsName: true,
    ...layer,
    receive: isTable(layer.receive) ? { port: 'any', ...layer.receive } : layer.receive,
  })),
});

const withReadWindows = (owner: Json): Json => ({
  ...owner,
  windows: mapped(owner.windows, (window) => ({ read: 'always', ...window })),
});

const isTable = (value: unknown): value is Json => typeof value === 'object' && value !== null && !Array.isArray(value);
/** A list with every table in it changed; anything else stays as it is for the check to find. */
const mapped = (value: unknown, change: (item: Json) => Json): unknown =>
  Array.isArray(value) ? value.map((item: unknown) => (isTable(item) ? change(item) : item)) : value;

/**
 * The rig in a parsed JSON value: older versions are migrated step by step, then every field is checked.
 * Throws a {@link RigError} with the path of the first fault.
 */
export function readRig(json: unknown): Rig {
  const migrated = migrate(json, RIG_VERSION, MIGRATIONS);
  // The schema finds the first fault and says it in words; where there is none, it need not be asked.
  if (!surelyPasses(rigSchema, migrated))
    try {
      rigSchema.validateSync(migrated, { strict: true, abortEarly: true });
    } catch (error) {
      if (!(error instanceof ValidationError)) throw error;
      throw new RigError(error.path ?? '', problemOf(error));
    }
  const rig = migrated as unknown as Rig;
  const broken = brokenLink(rig);
  if (broken) throw new RigError(broken.place, broken.problem);
  return rig;
}

/** Parts of rigs that were checked and found sound; edits leave most parts as they are. */
const known = new WeakSet<object>();

/**
 * The first fault of a rig that edits have made, or undefined. Parts that were checked before are not looked at again,
 * so that this costs what has changed.
 */
export function faultOf(rig: Rig): RigError | undefined {
  const check = (schema: Schema, part: object, place: string, as: object = part): RigError | undefined => {
    if (known.has(part)) return undefined;
    if (!surelyPasses(schema, as))
      try {
        schema.validateSync(as, { strict: true, abortEarly: true });
      } catch (error) {
        if (!(error instanceof ValidationError)) throw error;
        return new RigError([place, error.path].filter(Boolean).join('.'), problemOf(error));
      }
    known.add(part);
    return undefined;
  };
  const faults = function* (): Generator<RigError | undefined> {
    yield check(rigSchema, rig, '', { ...rig, patches: [], sounds: [], samples: [] });
    for (const [i, patch] of rig.patches.entries()) yield check(patchSchema, patch, `patches[${i}]`);
    for (const [i, sample] of rig.samples.entries()) yield check(sampleSchema, sample, `samples[${i}]`);
    for (const [i, sound] of rig.sounds.entries()) {
      yield check(soundSchema, sound, `sounds[${i}]`, { ...sound, zones: [] });
      for (const [z, zone] of sound.zones.entries()) yield check(zoneSchema, zone, `sounds[${i}].zones[${z}]`);
    }
  };
  for (const fault of faults()) if (fault) return fault;
  const broken = brokenLink(rig);
  return broken && new RigError(broken.place, broken.problem);
}

/** The parsed rig in a JSON text. Throws a {@link RigError}. */
export function readRigText(text: string): Rig {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new RigError('', 'this is not JSON text, or it is cut off');
  }
  return readRig(json);
}

/**
 * A value of the newest version. Throws for foreign values, for versions newer than `newest` and for those nobody can
 * migrate.
 */
export function migrate(json: unknown, newest: number, migrations: Migrations): Json {
  if (typeof json !== 'object' || json === null || (json as Json).format !== 'wavicle-rig')
    throw new RigError('format', 'this is not a Wavicle rig');
  let rig = json as Json;
  if (typeof rig.version !== 'number' || !Number.isInteger(rig.version))
    throw new RigError('version', 'is not a whole number');
  if (rig.version > newest)
    throw new RigError('version', `${rig.version} is newer than this Wavicle reads (${newest}); update it first`);
  while ((rig.version as number) < newest) {
    const step = migrations[rig.version as number];
    if (!step) throw new RigError('version', `${rig.version as number} is unknown`);
    rig = step(rig);
  }
  return rig;
}

/** A fault that the schema found, in words. */
export const problemOf = (error: ValidationError): string =>
  error.type === 'typeError' && error.message.includes('must be a')
    ? `is not ${/`array`/.test(error.message) ? 'a list' : 'a table'}`
    : error.message;
