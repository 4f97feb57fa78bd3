import { A4_HZ, EQUAL } from '../music/tunings';
import { parseSource, type SourceId } from '../space/source';
import type { MoverKindId } from '../movers';
import { OSCILLATORS } from '../sounds/synth/parameters';
import { TABLE_IDS } from '../sounds/synth/tableIds';
import {
  GROUP_PARAMETERS,
  POOL_PARAMETERS,
  SECTIONS,
  XY_PARAMETERS,
  type GroupParameterId,
  type LayerParameterId,
  type PoolParameterId,
  type XyParameterId,
} from './parameters';
import { LAYER_PARAMETERS } from './layerParameters';
import type {
  EffectSpec,
  Entry,
  Group,
  Instrument,
  Layer,
  LayerWindow,
  Mark,
  Message,
  Mover,
  Click,
  Pair,
  NotePath,
  Patch,
  Pool,
  Receive,
  Rig,
  Route,
  Setlist,
  Sound,
  Waves,
  XyPad,
  Zone,
  ZoneLoop,
} from './schema';
import { MARK_COLOURS, MARK_SHAPES, RIG_VERSION } from './limits';

/** A window that lets everything through: the whole range of its source, no fades. */
export function fullWindow(source: SourceId): LayerWindow {
  const found = parseSource(source);
  if (!found) throw new RangeError(`"${source}" names no source`);
  return { source, low: found.low, high: found.high, fadeIn: 0, fadeOut: 0, shape: 'sine', read: 'always' };
}

/**
 * The n-th mark: colours and shapes go round together, so that neither alone tells two of the first eight apart; each
 * round of eight pairs them otherwise, so that 64 differ.
 */
export const markAt = (n: number): Mark => ({
  colour: MARK_COLOURS[n % 8],
  shape: MARK_SHAPES[(n + Math.floor(n / 8)) % 8],
});

/** The first mark that no layer of the patch has: of a colour that none has, while there is one. */
export const freeMark = (patch: Patch): Mark => {
  const colours = new Set(patch.layers.map((layer) => layer.mark.colour));
  const pairs = new Set(patch.layers.map(({ mark }) => `${mark.colour} ${mark.shape}`));
  const all = Array.from({ length: MARK_COLOURS.length * MARK_SHAPES.length }, (_, n) => markAt(n));
  return (
    all.find(({ colour }) => !colours.has(colour)) ??
    all.find(({ colour, shape }) => !pairs.has(`${colour} ${shape}`)) ??
    markAt(patch.layers.length)
  );
};

/** A path on which a note stays what it is. */
export const newPath = (): NotePath => ({
  ranges: 'played',
  scale: { on: false, name: 'major', root: 0, outside: 'nearest' },
  chord: { on: false, notes: [], in: 'semitones', harmony: 'written' },
  arpeggio: {
    on: false,
    order: 'up',
    pattern: [{ kind: 'note', velocity: 1, octave: 0, chance: 1 }],
    hold: false,
    start: 'key',
  },
  playing: 'poly',
  glide: 'time',
  limit: 0,
  instrument: null,
  seed: 1,
});

/** Hears everything but program changes. */
const newReceive = (): Receive => ({
  port: 'any',
  channel: 'any',
  bend: true,
  sustain: true,
  sostenuto: true,
  wheel: true,
  pressure: true,
  expression: true,
  program: false,
  song: true,
});

/** A layer that plays a sound everywhere, with every parameter at its default. */
export const newLayer = (id: string, name: string, soundId: string, mark: Mark): Layer => ({
  id,
  name,
  mark,
  groupId: null,
  soundId,
  list: [],
  morph: false,
  showsName: true,
  role: 'unsaid',
  kept: null,
  on: true,
  windows: [fullWindow('key'), fullWindow('velocity')],
  receive: newReceive(),
  transpose: 0,
  tuning: null,
  staysEqual: false,
  path: newPath(),
  touch: { curve: 0, outLow: 1, outHigh: 127, fixed: null },
  effects: [],
  params: {},
});

/** A group that changes nothing yet. */
export const newGroup = (id: string, name: string, mark: Mark): Group => ({
  id,
  name,
  mark,
  on: true,
  folded: false,
  choke: 0,
  windows: [],
  receive: newReceive(),
  effects: [],
  params: {},
});

/** The value of a group's parameter in its unit. */
export const groupParam = (group: Pick<Group, 'params'>, id: GroupParameterId): number =>
  group.params[id] ?? GROUP_PARAMETERS[id].default;

export const newPatch = (id: string, name: string): Patch => ({
  id,
  name,
  tempo: 120,
  notes: '',
  tuning: null,
  a4: null,
  layers: [],
  groups: [],
  macros: [],
  macroPages: [],
  xyPads: [],
  movers: [],
  blends: [],
  routes: [],
  pools: [],
  connections: [],
  main: { level: 0, width: 100, effects: [] },
  front: [],
  draws: [],
  drawn: null,
  locks: [],
  takes: [],
  backing: [],
  told: [],
  knobs: [],
  versions: [],
  version: null,
});

/** A controller of which nothing is known yet: the keys of a grand piano, every velocity, no bindings. */
export const newControllers = (): Rig['controllers'] => ({
  keyLow: 21,
  keyHigh: 108,
  velocityLow: 1,
  velocityHigh: 127,
  ports: [],
  bindings: [],
  pedals: [],
  takeover: 'jump',
  mpe: { lower: 0, upper: 0, bendRange: 48 },
  programs: 'off',
  programChannel: 0,
});

/** A route that adds a share of the target's range, in a straight line. */
export const newRoute = (id: string, source: Route['source'], target: string, depth: number): Route => ({
  id,
  source,
  target,
  depth,
  curve: 'linear',
  polarity: 'as-is',
  on: true,
  bound: false,
  counts: 'last',
});

/** The vibrato that players expect on the wheel: it comes with each new layer, as a route like any other. */
export const WHEEL_VIBRATO_CENTS = 30;
export const vibratoRoute = (id: string, layerId: string): Route =>
  newRoute(id, 'cc.1', `layer.${layerId}.vibratoDepth`, WHEEL_VIBRATO_CENTS / LAYER_PARAMETERS.vibratoDepth.high);

/** A mover of a kind as it comes: for each note where it makes sense for one, else for the patch. */
export function newMover(kind: MoverKindId, number: number, name: string): Mover {
  const forNote = kind === 'envelope' || kind === 'contour';
  return {
    kind,
    number,
    name,
    on: true,
    reach: forNote ? 'note' : 'patch',
    begins: forNote ? 'strike' : kind === 'follower' || kind === 'wander' ? 'never' : 'beat',
    clock: kind === 'wander' ? 'hz' : kind === 'contour' ? 'seconds' : 'note',
    shape: 'sine',
    loop: false,
    points:
      kind === 'contour'
        ? [
            [0, -1, 0],
            [0.25, 1, 0],
            [1, -1, 0.5],
          ]
        : [],
    values: kind === 'steps' ? [0, 0.5, -0.5, 1, 0, -1, 0.5, -0.25] : [],
    follows: kind === 'hold' ? 'random' : kind === 'follower' ? 'main' : '',
    params: {},
  };
}

/** The recordings of a sound: of its zones, and rows of waves that were brought in. */
export const samplesIn = ({ zones, kind, waves }: Pick<Sound, 'zones' | 'kind' | 'waves'>): string[] => [
  ...new Set([
    ...zones.map(({ sampleId }) => sampleId),
    ...(kind === 'synth' ? waves.map(({ table }) => table).filter((table) => !TABLE_IDS.includes(table)) : []),
  ]),
];

/** The sounds that a layer may play: those of its list, or the one it has. */
export const soundsOf = (layer: Pick<Layer, 'soundId' | 'list'>): readonly string[] =>
  layer.list.length > 0 ? layer.list : [layer.soundId];

/** An effect of a kind as it comes. */
export const newEffect = (id: string, kind: string): EffectSpec => ({
  id,
  kind,
  on: true,
  params: {},
  steps: [],
  listens: null,
  sampleId: null,
});
export const newPool = (id: string, name: string, effects: readonly EffectSpec[]): Pool => ({
  id,
  name,
  on: true,
  effects: [...effects],
  params: {},
});
export const effectParam = (effect: Pick<EffectSpec, 'kind' | 'params'>, id: string): number =>
  effect.params[id] ?? SECTIONS[effect.kind][id].default;
export const poolParam = (pool: Pick<Pool, 'params'>, id: PoolParameterId): number =>
  pool.params[id] ?? POOL_PARAMETERS[id].default;

/** The value of a mover's parameter in its unit. */
export const moverParam = (mover: Pick<Mover, 'kind' | 'params'>, id: string): number =>
  mover.params[id] ?? SECTIONS[mover.kind][id].default;

/** The value of a pad's parameter in its unit. */
export const xyParam = (pad: XyPad, id: XyParameterId): number =>
  id === 'x' || id === 'y' ? pad[id] : (pad.params[id] ?? XY_PARAMETERS[id].default);

export const newEntry = (id: string, kind: Entry['kind'], patches: readonly string[] = []): Entry => ({
  id,
  kind,
  name: '',
  notes: '',
  page: '',
  tempo: null,
  transpose: 0,
  patches: [...patches],
  minutes: 0,
});
export const newSetlist = (id: string, name: string, entries: readonly Entry[] = []): Setlist => ({
  id,
  name,
  notes: '',
  entries: [...entries],
});

export const newRig = (id: string, name: string): Rig => ({
  format: 'wavicle-rig',
  version: RIG_VERSION,
  id,
  name,
  patches: [],
  sounds: [],
  samples: [],
  setlists: [newSetlist('show', 'Show')],
  setlist: 'show',
  controllers: newControllers(),
  checks: newChecks(),
  pitch: newPitch(),
  instruments: [],
  pairs: newPairs(),
  click: newClick(),
});

/** One pair, as most rigs need. */
export const newPairs = (): Pair[] => [{ id: 'hall', name: 'hall' }];

/** A click that goes nowhere: a pair must be chosen first. */
export const newClick = (): Click => ({
  pair: null,
  level: -12,
  beats: 4,
  subdivision: 1,
  sound: 'wood',
  stage: false,
});

/** An instrument outside that hangs nowhere yet. */
export const newInstrument = (id: string, name: string): Instrument => ({
  id,
  name,
  output: '',
  channel: 1,
  clock: false,
  asks: true,
});

/** A message as it begins, of each kind. */
export const newMessage = (kind: Message['kind']): Message => ({
  kind,
  number: kind === 'controller' ? 7 : 0,
  value: kind === 'program' ? -1 : kind === 'controller' ? 100 : 0,
  bytes: '',
  pause: 0,
});

/** Twelve equal semitones around an A of 440 Hz. */
export const newPitch = (): Rig['pitch'] => ({ a4: A4_HZ, tuning: EQUAL });

/** Every rule goes by its own thresholds, and nothing is set aside. */
export const newChecks = (): Rig['checks'] => ({ thresholds: {}, aside: [] });

export const newSound = (id: string, name: string, zones: Sound['zones'] = []): Sound => ({
  id,
  name,
  kind: 'multisample',
  notes: '',
  params: {},
  waves: newWaves(),
  shape: [],
  tags: [],
  favourite: false,
  alternation: 'in-turn',
  zones,
});

/** Each oscillator plays the first of our rows of waves. */
export const newWaves = (): Waves[] => Array.from({ length: OSCILLATORS }, () => ({ table: TABLE_IDS[0], length: 0 }));

/** A zone that plays a whole sample on one key at every velocity. */
export const newZone = (sampleId: string, root: number): Zone => ({
  sampleId,
  root,
  tune: 0,
  pitchPerKey: 100,
  gain: 0,
  pan: 0,
  key: { low: root, high: root, fadeIn: 0, fadeOut: 0, shape: 'sine' },
  velocity: { low: 1, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' },
  windows: [],
  start: 0,
  end: null,
  reverse: false,
  loop: null,
  playback: 'while-held',
  trigger: 'attack',
  alternate: null,
  turns: null,
  choke: null,
  fadeIn: 0,
  fadeOut: 0,
  params: {},
});

/** A loop that repeats to the end of the note, as it is. */
export const plainLoop = (loop: { start: number; end: number } | null): ZoneLoop | null =>
  loop && { start: loop.start, end: loop.end, crossfade: 0, until: 'end' };

/** The value of a layer's parameter in its unit; where the layer leaves it at its default, a zone's own value holds. */
export const paramOf = (
  layer: Pick<Layer, 'params' | 'transpose' | 'touch'>,
  id: LayerParameterId,
  zone: Sound['params'] = {},
): number =>
  id === 'transpose'
    ? layer.transpose
    : id === 'touch'
      ? layer.touch.curve
      : (layer.params[id] ?? zone[id] ?? LAYER_PARAMETERS[id].default);

/** The layer's first window on a source. Every layer has one on key and one on velocity. */
export const windowOn = (layer: Layer, source: SourceId): LayerWindow | undefined =>
  layer.windows.find((window) => window.source === source);

/**
 * A patch in which the keys play one sound alone over its whole range, through the strip of the layer that plays it in
 * another patch, if one does. What moves the values that only its kind has moves them here too.
 */
export function soundPatch(sound: Sound, patch: Patch): Patch {
  const layer = patch.layers.find((candidate) => soundsOf(candidate).includes(sound.id)) ?? {
    ...newLayer('alone', sound.name, sound.id, markAt(2)),
    params: sound.params,
  };
  const alone = {
    ...newPatch(`sound-${sound.id}`, sound.name),
    tempo: patch.tempo,
    main: patch.main,
    layers: [
      {
        ...layer,
        groupId: null,
        soundId: sound.id,
        list: [],
        on: true,
        transpose: 0,
        windows: [fullWindow('key'), fullWindow('velocity')],
        receive: { ...layer.receive, port: 'any', channel: 'any' as const },
        effects: [],
      },
    ],
  };
  if (sound.kind === 'multisample') return alone;
  const { macros, macroPages, movers, xyPads, blends } = patch;
  // What moves movers, pads and macros among themselves belongs to it; what moves other layers and the mix does not.
  const own = patch.routes.filter(
    ({ target }) =>
      target.startsWith(`layer.${layer.id}.`) ||
      /^(macro|blend|xy|lfo|envelope|contour|steps|hold|wander|follower)\./.test(target),
  );
  const anchored = xyPads.map((pad) => ({
    ...pad,
    anchors: pad.anchors.map((anchor) => ({ ...anchor, layerId: anchor.layerId === layer.id ? layer.id : null })),
  }));
  return {
    ...alone,
    macros,
    macroPages,
    movers: movers.map((mover) =>
      mover.kind === 'follower' && mover.follows !== 'main' && mover.follows !== layer.id
        ? { ...mover, follows: 'main' }
        : mover,
    ),
    xyPads: anchored,
    blends,
    routes: own,
  };
}
