import { safeName } from './safeName';
import { strToU8 } from 'fflate';
import { type ZoneParameterId } from '../rig/parameters';
import { LAYER_PARAMETERS } from '../rig/layerParameters';
import type { Sample, Sound, Zone } from '../rig/schema';
import { stemOf } from './folder';
import { writeFlac } from './flac';
import { writeSfz } from './sfzWrite';
import { writeSoundFont } from './soundFontWrite';
import type { NotCarried } from './sfzRead';
import { narrowestEncoding, readWav, writeWav } from './wav';

export interface ExportedSound {
  files: { path: string; bytes: Uint8Array }[];
  notCarried: NotCarried[];
}

/** Names that differ from one another, whatever the case. */
function distinctNames(names: readonly string[]): string[] {
  const used = new Set<string>();
  return names.map((name) => {
    let out = name;
    for (let n = 2; used.has(out.toLowerCase()); n++) out = `${name} (${n})`;
    used.add(out.toLowerCase());
    return out;
  });
}

/**
 * A sound in an open format with its samples: `sfz` writes NAME.sfz and its WAV files as they are, `sf2` a SoundFont of
 * one preset, `wav` a WAV for each zone with its root, tuning, loop and ranges in
 * `smpl` and `inst` chunks, `flac` each recording once, without loss. What the format has no words for is listed.
 * Throws an Error for sounds that are not made of samples.
 */
export async function exportSound(
  sound: Sound,
  samples: readonly Sample[],
  wavOf: (sampleId: string) => Uint8Array,
  format: SoundFormat,
): Promise<ExportedSound> {
  const nameOf = new Map(samples.map((sample) => [sample.id, sample.name]));
  if (sound.kind !== 'multisample')
    throw new Error(`“${sound.name}” is made by the engine and has no samples of its own to write; bounce it first`);
  if (format === 'sf2') {
    const { bytes, notCarried } = writeSoundFont(
      sound.name,
      [sound],
      (id) => readWav(wavOf(id)).audio,
      (id) => nameOf.get(id) ?? id,
    );
    return { files: [{ path: `${safeName(sound.name)}.sf2`, bytes }], notCarried };
  }
  if (format === 'flac') return asFlacs(sound, nameOf, wavOf);
  return format === 'sfz' ? asSfz(sound, nameOf, wavOf) : asWavs(sound, nameOf, wavOf);
}

export const SOUND_FORMATS = ['sfz', 'sf2', 'wav', 'flac'] as const;
export type SoundFormat = (typeof SOUND_FORMATS)[number];

/** Each recording once, in as many bits as it has; FLAC keeps no more than the recording. */
async function asFlacs(
  sound: Sound,
  nameOf: ReadonlyMap<string, string>,
  wavOf: (sampleId: string) => Uint8Array,
): Promise<ExportedSound> {
  const ids = [...new Set(sound.zones.map((zone) => zone.sampleId))];
  const names = distinctNames(ids.map((id) => safeName(stemOf(nameOf.get(id) ?? id))));
  const files: ExportedSound['files'] = [];
  let beyond = 0;
  for (const [n, id] of ids.entries()) {
    const { audio } = readWav(wavOf(id));
    const encoding = narrowestEncoding(audio.data);
    if (encoding === 'float32') beyond++;
    files.push({ path: `${names[n]}.flac`, bytes: await writeFlac(audio, encoding === 'pcm16' ? 16 : 24) });
  }
  return {
    files,
    notCarried: [
      { what: 'zones: roots, ranges, loops, gains and all else of them', count: sound.zones.length },
      ...(beyond > 0 ? [{ what: 'more than 24 bits', count: beyond }] : []),
    ],
  };
}

function asSfz(
  sound: Sound,
  nameOf: ReadonlyMap<string, string>,
  wavOf: (sampleId: string) => Uint8Array,
): ExportedSound {
  const ids = [...new Set(sound.zones.map((zone) => zone.sampleId))];
  const names = distinctNames(ids.map((id) => safeName(stemOf(nameOf.get(id) ?? id))));
  const pathOf = new Map(ids.map((id, i) => [id, `samples/${names[i]}.wav`]));
  const { text, notCarried } = writeSfz(sound, (id) => pathOf.get(id)!);
  return {
    files: [
      { path: `${safeName(sound.name)}.sfz`, bytes: strToU8(text) },
      ...ids.map((id) => ({ path: pathOf.get(id)!, bytes: wavOf(id) })),
    ],
    notCarried,
  };
}

function asWavs(
  sound: Sound,
  nameOf: ReadonlyMap<string, string>,
  wavOf: (sampleId: string) => Uint8Array,
): ExportedSound {
  const names = distinctNames(sound.zones.map((zone) => safeName(stemOf(nameOf.get(zone.sampleId) ?? zone.sampleId))));
  const lost = new Map<string, number>();
  const files = sound.zones.map((zone, i) => {
    for (const what of beyondWav(zone)) lost.set(what, (lost.get(what) ?? 0) + 1);
    const { audio } = readWav(wavOf(zone.sampleId));
    // A sample that is tuned up by the zone lies below its root.
    const key = zone.root - zone.tune / 100;
    const root = Math.max(0, Math.min(127, Math.floor(key + 1e-9)));
    const bytes = writeWav(audio, {
      encoding: narrowestEncoding(audio.data),
      root,
      tuneCents: Math.max(0, Math.min(99.99, (key - root) * 100)),
      loop: zone.loop,
      range: {
        keyLow: zone.key.low,
        keyHigh: zone.key.high,
        velocityLow: zone.velocity.low,
        velocityHigh: zone.velocity.high,
      },
    });
    return { path: `${names[i]}.wav`, bytes };
  });
  return { files, notCarried: [...lost].map(([what, count]) => ({ what, count })) };
}

/** What a zone has beyond root, tuning, loop and ranges. */
function beyondWav(zone: Zone): string[] {
  const out: string[] = [];
  const fades = zone.key.fadeIn + zone.key.fadeOut + zone.velocity.fadeIn + zone.velocity.fadeOut > 0;
  if (fades) out.push('fades of keys or velocities');
  if (zone.windows.length > 0) out.push('windows on further sources');
  if (zone.gain !== 0) out.push('gain');
  if (zone.pan !== 0) out.push('pan');
  if (zone.start !== 0 || zone.end !== null) out.push('start and end');
  if (zone.reverse) out.push('reversed playback');
  if (zone.playback === 'full-length') out.push('full-length playback');
  if (zone.trigger === 'release') out.push('release trigger');
  if (zone.alternate !== null) out.push('alternates');
  if (zone.choke) out.push('choke groups');
  if (zone.pitchPerKey !== 100) out.push('pitch per key');
  if (zone.loop && zone.loop.crossfade > 0) out.push('the crossfade of a loop');
  for (const id of Object.keys(zone.params)) out.push(LAYER_PARAMETERS[id as ZoneParameterId].label);
  return out;
}
