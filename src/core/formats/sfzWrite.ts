import { type ZoneParameterId } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import type { LayerWindow, Sound, Zone } from '../rig/schema';
import type { NotCarried } from './sfzRead';

/** A sound as an SFZ file. `pathOf` gives the path of a sample beside it. What SFZ v1 has no words for is listed. */
export function writeSfz(
  sound: Sound,
  pathOf: (sampleId: string) => string,
): { text: string; notCarried: NotCarried[] } {
  const lost = new Map<string, number>();
  const lose = (what: string) => lost.set(what, (lost.get(what) ?? 0) + 1);
  const lines = [`// ${sound.name.replace(/[\r\n]/g, ' ')}, written by Wavicle`, ''];
  const turns = turnsOf(sound, lose);
  const freeGroup = Math.max(0, ...sound.zones.flatMap((zone) => [zone.choke?.group ?? 0, zone.choke?.by ?? 0])) + 1;
  if (sound.alternation === 'shuffled' && turns.size > 0) lose('shuffled alternates (written as taking turns)');
  sound.zones.forEach((zone, i) => {
    const opcodes = [`sample=${pathOf(zone.sampleId)}`, ...opcodesOf(zone, sound, turns.get(i), freeGroup, lose)];
    lines.push(`<region> ${opcodes.join(' ')}`);
  });
  return { text: `${lines.join('\n')}\n`, notCarried: [...lost].map(([what, count]) => ({ what, count })) };
}

interface Turn {
  turn: number;
  count: number;
}

/**
 * By place: whose turn a zone has among the alternates it meets, and how many there are. SFZ counts a round for each
 * region, so alternates that meet on part of their ranges only share one round all the same, which is told.
 */
function turnsOf({ zones }: Sound, lose: (what: string) => void): Map<number, Turn> {
  const turns = new Map<number, Turn>();
  const places = zones.flatMap((zone, i) => (zone.alternate === null ? [] : [i]));
  const meet = (a: Zone, b: Zone) =>
    a.trigger === b.trigger &&
    a.key.low <= b.key.high &&
    b.key.low <= a.key.high &&
    a.velocity.low <= b.velocity.high &&
    b.velocity.low <= a.velocity.high;
  const rangeOf = ({ key, velocity }: Zone) => `${key.low} ${key.high} ${velocity.low} ${velocity.high}`;
  const left = new Set(places);
  for (const first of places) {
    if (!left.delete(first)) continue;
    const round = [first];
    for (let at = 0; at < round.length; at++)
      for (const other of left) if (meet(zones[round[at]], zones[other]) && left.delete(other)) round.push(other);
    const numbers = [...new Set(round.map((place) => zones[place].alternate!))].sort((a, b) => a - b);
    const silent = Math.max(0, ...round.map((place) => zones[place].turns ?? 0));
    const count = Math.max(silent, numbers.length);
    if (count < 2) continue;
    const unequal = new Set(round.map((place) => rangeOf(zones[place]))).size > 1;
    for (const place of round) {
      if (unequal) lose('alternates on unequal ranges (written as one round for all of them)');
      turns.set(place, {
        turn: silent > 0 ? zones[place].alternate! % count : numbers.indexOf(zones[place].alternate!),
        count,
      });
    }
  }
  return turns;
}

const number = (x: number): string => String(Object.is(x, -0) ? 0 : x);

function opcodesOf(
  zone: Zone,
  sound: Sound,
  turn: Turn | undefined,
  freeGroup: number,
  lose: (what: string) => void,
): string[] {
  const out: string[] = [];
  const put = (name: string, value: number | string, otherwise?: number | string) => {
    if (value !== otherwise) out.push(`${name}=${typeof value === 'number' ? number(value) : value}`);
  };
  edge('key', zone.key, 0, 127, 'xf_keycurve', put, lose);
  edge('vel', zone.velocity, 1, 127, 'xf_velcurve', put, lose);
  put('pitch_keycenter', zone.root);
  put('tune', zone.tune, 0);
  put('pitch_keytrack', zone.pitchPerKey, 100);
  put('volume', zone.gain, 0);
  if (zone.gain > 6) lose('a volume above +6 dB (beyond SFZ v1)');
  put('pan', zone.pan * 100, 0);
  put('offset', zone.start, 0);
  if (zone.end !== null) put('end', zone.end - 1);
  if (zone.reverse) put('direction', 'reverse');
  loop(zone, put, lose);
  put('trigger', zone.trigger, 'attack');
  if (turn && sound.alternation === 'random') {
    put('lorand', turn.turn / turn.count);
    put('hirand', (turn.turn + 1) / turn.count);
  } else if (turn) {
    put('seq_length', turn.count);
    put('seq_position', turn.turn + 1);
  }
  if (zone.choke) {
    // Group 0 means none in SFZ: another number stands for it.
    if (zone.choke.group !== null) put('group', zone.choke.group || freeGroup);
    if (zone.choke.by !== null) put('off_by', zone.choke.by || freeGroup);
    put('off_mode', zone.choke.fade === 'fast' ? 'fast' : 'normal', 'fast');
  }
  for (const window of zone.windows) windowOf(window, turn !== undefined && sound.alternation === 'random', put, lose);
  parameters(zone, put, lose);
  return out;
}

type Put = (name: string, value: number | string, otherwise?: number | string) => void;

/** A window that follows its source as crossfades alone, hard ones where it has none. */
function fades(
  what: string,
  { low, high, fadeIn, fadeOut, shape }: Zone['key'],
  least: number,
  most: number,
  curve: string,
  put: Put,
  lose: (what: string) => void,
): void {
  if (low > least || fadeIn > 0) {
    put(`xfin_lo${what}`, low);
    put(`xfin_hi${what}`, low + fadeIn);
  }
  if (high < most || fadeOut > 0) {
    put(`xfout_lo${what}`, high - fadeOut);
    put(`xfout_hi${what}`, high);
  }
  shapeOfFades({ fadeIn, fadeOut, shape }, curve, put, lose);
}

function shapeOfFades(
  { fadeIn, fadeOut, shape }: Pick<Zone['key'], 'fadeIn' | 'fadeOut' | 'shape'>,
  curve: string | null,
  put: Put,
  lose: (what: string) => void,
): void {
  if (fadeIn === 0 && fadeOut === 0) return;
  if (shape === 'linear' && curve) put(curve, 'gain');
  if (shape === 'sine') lose('the sine shape of a fade (written as root, of constant power too)');
}

/** A window as a range and its crossfades. SFZ knows linear fades and those of constant power by square root. */
function edge(
  what: string,
  { low, high, fadeIn, fadeOut, shape }: Zone['key'],
  least: number,
  most: number,
  curve: string | null,
  put: Put,
  lose: (what: string) => void,
): void {
  put(`lo${what}`, low, least);
  put(`hi${what}`, high, most);
  if (fadeIn > 0) {
    put(`xfin_lo${what}`, low);
    put(`xfin_hi${what}`, low + fadeIn);
  }
  if (fadeOut > 0) {
    put(`xfout_lo${what}`, high - fadeOut);
    put(`xfout_hi${what}`, high);
  }
  shapeOfFades({ fadeIn, fadeOut, shape }, curve, put, lose);
}

function loop({ loop: own, playback, trigger }: Zone, put: Put, lose: (what: string) => void): void {
  if (playback === 'full-length' || !own) {
    put('loop_mode', playback === 'full-length' && trigger === 'attack' ? 'one_shot' : 'no_loop');
    return;
  }
  put('loop_mode', own.until === 'release' ? 'loop_sustain' : 'loop_continuous');
  put('loop_start', own.start);
  put('loop_end', own.end - 1);
  if (own.crossfade > 0) lose('the crossfade of a loop');
}

function windowOf(window: LayerWindow, chanceTaken: boolean, put: Put, lose: (what: string) => void): void {
  const { source, low, high } = window;
  const faded = window.fadeIn > 0 || window.fadeOut > 0;
  const controller = /^cc\.(\d+)$/.exec(source);
  if (controller && window.read === 'always') fades(`cc${controller[1]}`, window, 0, 127, 'xf_cccurve', put, lose);
  else if (faded)
    lose(`a faded window on ${source}${window.read === 'at-strike' ? ' that is read at the strike' : ''}`);
  else if (controller) {
    put(`locc${controller[1]}`, low, 0);
    put(`hicc${controller[1]}`, high, 127);
  } else if (/^random\.\d+$/.test(source) && !chanceTaken) {
    put('lorand', low, 0);
    put('hirand', high, 1);
  } else if (window.read === 'always' && ['bend', 'channelPressure', 'pressure'].includes(source))
    lose(`a window that follows ${source} while the note sounds`);
  else if (source === 'bend') {
    put('lobend', Math.round(low * (low < 0 ? 8192 : 8191)), -8192);
    put('hibend', Math.round(high * (high < 0 ? 8192 : 8191)), 8191);
  } else if (source === 'channelPressure') {
    put('lochanaft', low, 0);
    put('hichanaft', high, 127);
  } else if (source === 'pressure') {
    put('lopolyaft', low, 0);
    put('hipolyaft', high, 127);
  } else lose(`a window on ${source}`);
}

function parameters({ params }: Zone, put: Put, lose: (what: string) => void): void {
  const has = (id: ZoneParameterId) => params[id] !== undefined;
  const value = (id: ZoneParameterId) => params[id] ?? LAYER_PARAMETERS[id].default;
  for (const stage of ['delay', 'attack', 'hold', 'decay', 'release'] as const)
    if (has(stage)) put(`ampeg_${stage}`, value(stage));
  // A decay that is not written lasts no time in SFZ.
  if (has('sustain') && !has('decay')) put('ampeg_decay', value('decay'));
  if (has('startLevel')) put('ampeg_start', value('startLevel'));
  if (has('sustain')) put('ampeg_sustain', value('sustain') <= -60 ? 0 : 100 * 10 ** (value('sustain') / 20));
  if (has('velocityToLevel')) put('amp_veltrack', value('velocityToLevel'));
  if (has('bendRange')) {
    put('bend_up', value('bendRange') * 100);
    put('bend_down', -value('bendRange') * 100);
  }
  const lowPass = (['cutoff', 'resonance', 'keyTrack', 'velocityTrack'] as const).some(has);
  if (lowPass) {
    put('fil_type', 'lpf_2p');
    put('cutoff', value('cutoff'));
    if (has('resonance')) put('resonance', Math.max(0, 20 * Math.log10(value('resonance') * Math.SQRT2)));
    if (value('resonance') < 0.7) lose('a resonance below the flat one');
    if (has('keyTrack')) put('fil_keytrack', value('keyTrack'));
    if (has('velocityTrack')) put('fil_veltrack', value('velocityTrack') * 100);
  }
  if (has('lowCut') && lowPass) lose('a low cut beside a high cut');
  else if (has('lowCut')) {
    put('fil_type', 'hpf_2p');
    put('cutoff', value('lowCut'));
  }
}
