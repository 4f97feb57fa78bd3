import { createHash } from 'node:crypto';
import { performance } from 'node:perf_hooks';
import { bounceStrike, programOfTarget, samplesFor } from '../core/bounce/bounce';
import {
  strikesOf,
  targetsOf,
  withBounced,
  type Bounced,
  type BounceSettings,
  type BounceWhat,
} from '../core/bounce/plan';
import { writeArchive } from '../core/formats/rigArchive';
import { parseKey } from '../core/music/noteNames';
import { freeId } from '../core/rig/names';
import { numberOption, readArguments, required, setOptions } from './arguments';
import { Failure } from './failure';
import { findPatch, naming, readArchiveFile, writeFile } from './files';
import { preparing } from './played';

/**
 * `bounce RIG --patch NAME --keys LIST --velocities LIST --seconds S --out RIG`: renders a patch into a new
 * multisample.
 */
export async function bounce(args: string[]): Promise<unknown> {
  const { values, file } = readArguments(
    args,
    {
      patch: { type: 'string' },
      keys: { type: 'string' },
      velocities: { type: 'string' },
      seconds: { type: 'string' },
      out: { type: 'string' },
      tail: { type: 'string' },
      alternates: { type: 'string' },
      layer: { type: 'string' },
      group: { type: 'string' },
      pool: { type: 'string' },
      mono: { type: 'boolean' },
      loop: { type: 'boolean' },
      dry: { type: 'boolean' },
      rebuild: { type: 'boolean' },
      set: { type: 'string', multiple: true },
    },
    'RIG',
  );
  const name = required(values, 'patch');
  const out = required(values, 'out');
  const keys = listOf(required(values, 'keys'), 'keys', (text) => parseKey(text) ?? NaN, 0, 127);
  const velocities = listOf(required(values, 'velocities'), 'velocities', Number, 1, 127);
  const seconds = numberOption(values, 'seconds', 0.05, 60, undefined, false);
  const { rig, wavs } = readArchiveFile(file);
  const patch = findPatch(rig, name);
  const named = <T extends { id: string; name: string }>(
    kind: 'layer' | 'group' | 'pool',
    all: readonly T[],
  ): BounceWhat | undefined => {
    const wanted = values[kind] as string | undefined;
    if (wanted === undefined) return undefined;
    const found = all.find((each) => each.name === wanted || each.id === wanted);
    if (!found)
      throw new Failure(
        `--${kind} ${wanted}: ${patch.name} has ${all.map((each) => each.name).join(', ') || 'none'}`,
        2,
      );
    return { kind, id: found.id };
  };
  const settings: BounceSettings = {
    what: named('layer', patch.layers) ??
      named('group', patch.groups) ??
      named('pool', patch.pools) ?? { kind: 'patch' },
    keys,
    low: rig.controllers.keyLow < keys[0] ? rig.controllers.keyLow : keys[0],
    high: Math.max(rig.controllers.keyHigh, keys[keys.length - 1]),
    velocities,
    alternates: numberOption(values, 'alternates', 1, 64, 1),
    seconds,
    longestTail: numberOption(values, 'tail', 0, 120, 20, false),
    stereo: !values.mono,
    loop: values.loop === true,
    effects: !values.dry,
    rebuild: values.rebuild === true,
    set: Object.fromEntries(setOptions(values)),
  };
  let targets;
  try {
    targets = targetsOf(patch, settings);
  } catch (error) {
    throw new Failure(`${patch.name}: ${(error as Error).message}`, 2);
  }
  const programs = naming(`${file}: ${patch.name}`, () => targets.map((target) => programOfTarget(rig, target)));
  const prepared = preparing(file, wavs);
  const samples = programs.map((program) => samplesFor(program, prepared));
  const files = new Map(wavs);
  const bounced: Bounced[] = [];
  const began = performance.now();
  let rendered = 0;
  for (const strike of strikesOf(targets, settings)) {
    const result = await bounceStrike(
      programs[strike.target],
      samples[strike.target],
      targets[strike.target],
      settings,
      strike,
      (bytes) => Promise.resolve(createHash('sha256').update(bytes).digest('hex')),
    );
    files.set(result.bounced.sample.id, result.wav);
    bounced.push(result.bounced);
    rendered += result.bounced.sample.frames / result.bounced.sample.rate;
  }
  const soundIds: string[] = [];
  for (const _ of targets) soundIds.push(freeId('bounced', [...rig.sounds, ...soundIds.map((id) => ({ id }))]));
  const next = withBounced(rig, patch, settings, targets, bounced, {
    patchId: freeId('bounced', rig.patches),
    soundIds,
    layerId: 'bounced',
  });
  writeFile(
    out,
    writeArchive(next, (id) => files.get(id)!),
  );
  const zones = next.sounds
    .filter(({ id }) => soundIds.includes(id))
    .reduce((sum, sound) => sum + sound.zones.length, 0);
  return {
    zones,
    silent: bounced.filter(({ silent }) => silent).length,
    loops: bounced.filter(({ loop }) => loop).length,
    seconds: Math.round(rendered * 10) / 10,
    speed: Math.round((rendered / ((performance.now() - began) / 1000)) * 10) / 10,
  };
}

/** A list as it is typed, `36,40,C4` or `36-72/3` (from, to, every). */
function listOf(text: string, option: string, read: (text: string) => number, low: number, high: number): number[] {
  const found = new Set<number>();
  for (const part of text.split(',').map((each) => each.trim())) {
    const run = /^(\S+)\s*-\s*(\S+?)(?:\/(\d+))?$/.exec(part);
    const from = run && read(run[1]);
    const to = run && read(run[2]);
    if (run && Number(run[3] ?? 1) === 0)
      throw new Failure(
        `--${option} ${text}: a step of 0 leads nowhere; expected every first, second … of them, such as 36-84/3`,
        2,
      );
    if (run && from !== null && to !== null && Number.isInteger(from) && Number.isInteger(to) && from <= to)
      for (let n = from; n <= to; n += Number(run[3] ?? 1)) found.add(n);
    else found.add(part === '' ? NaN : read(part));
  }
  const list = [...found].sort((a, b) => a - b);
  const wrong = list.find((n) => !Number.isInteger(n) || n < low || n > high);
  if (wrong !== undefined || list.length === 0)
    throw new Failure(`--${option} ${text}: expected numbers from ${low} to ${high}, such as 48,60,72 or 36-84/3`, 2);
  return list;
}
