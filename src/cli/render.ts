import { performance } from 'node:perf_hooks';
import { compile, contextOf } from '../core/engine/program/compile';
import { Engine } from '../core/engine/engine';
import { playShow } from '../core/engine/offline/playShow';
import { playTake } from '../core/engine/offline/playTake';
import { readTake } from '../core/formats/midiFile';
import { prepare } from '../core/formats/prepare';
import { needsNoFile } from '../core/sounds/synth/tableIds';
import { readWav, writeWav } from '../core/formats/wav';
import { channelsOf, interleaved } from '../core/measure/level';
import { loudnessOf, peakOf } from '../core/measure/loudness';
import { effectKind } from '../core/effects';
import { dbOfGain } from '../core/music/pitch';
import { effectsIn, nameOfPlace } from '../core/rig/mix';
import type { Patch } from '../core/rig/schema';
import { patchAsPlayed, setlistOf, stepsOf } from '../core/rig/setlist';
import { numberOption, readArguments, required, setOptions } from './arguments';
import { Failure } from './failure';
import { findPatch, naming, readArchiveFile, readFile, writeFile } from './files';
import { TUNING_OPTIONS, tunedRig } from './tuning';

/** `render RIG --patch NAME --take FILE.mid --out FILE.wav …`: plays a take through the engine. */
export function render(args: string[]): unknown {
  const { values, file } = readArguments(
    args,
    {
      patch: { type: 'string' },
      take: { type: 'string' },
      out: { type: 'string' },
      rate: { type: 'string' },
      seed: { type: 'string' },
      tail: { type: 'string' },
      set: { type: 'string', multiple: true },
      solo: { type: 'string', multiple: true },
      tempo: { type: 'string' },
      dry: { type: 'boolean' },
      without: { type: 'string', multiple: true },
      stems: { type: 'boolean' },
      outputs: { type: 'boolean' },
      input: { type: 'string' },
      show: { type: 'boolean' },
      ...TUNING_OPTIONS,
    },
    'RIG',
  );
  if (values.show) return renderShow(values, file);
  const name = required(values, 'patch');
  const takePath = required(values, 'take');
  const out = required(values, 'out');
  const rate = numberOption(values, 'rate', 22050, 192000, 48000);
  const seed = numberOption(values, 'seed', -(2 ** 31), 2 ** 31 - 1, 1);
  const tail = numberOption(values, 'tail', 0, 60, 2, false);
  const set = setOptions(values);
  const { rig: asItIs, wavs } = readArchiveFile(file);
  const rig = tunedRig(asItIs, values);
  const patch = findPatch(rig, name);
  const tempo = values.tempo === undefined ? undefined : numberOption(values, 'tempo', 20, 400, undefined, false);
  const solo = ((values.solo as string[] | undefined) ?? []).map((wanted) => {
    const layer = patch.layers.find((candidate) => candidate.name === wanted || candidate.id === wanted);
    if (!layer)
      throw new Failure(
        `--solo ${wanted}: ${patch.name} has ${patch.layers.map((each) => each.name).join(', ') || 'no layer'}`,
        2,
      );
    return layer.id;
  });
  const without = values.dry
    ? ['*']
    : ((values.without as string[] | undefined) ?? []).flatMap((wanted) => leftOut(patch, wanted));
  const take = naming(takePath, () => readTake(readFile(takePath), ''));
  const program = naming(`${file}: ${patch.name}`, () => compile(patch, contextOf(rig, rate)));
  const sampleName = new Map(rig.samples.map((sample) => [sample.id, sample.name]));
  const samples = program.samples.map(
    (request) =>
      [
        request.key,
        naming(`${file}: ${sampleName.get(request.sampleId)}`, () =>
          prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!),
        ),
      ] as const,
  );
  const engineFor = (layerIds: readonly string[]): Engine => {
    const engine = new Engine({ rate, seed });
    for (const [key, sample] of samples) engine.addSample(key, sample);
    engine.setProgram(program);
    if (tempo !== undefined) engine.handle({ type: 'tempo', tempo });
    if (layerIds.length > 0) engine.handle({ type: 'solo', layerIds });
    if (without.length > 0) engine.handle({ type: 'without', ids: without, gainDb: 0 });
    // A file for each pair; without that, all that would go to others is in the one.
    if (values.outputs) engine.outputs.map(rig.pairs.map((_, n) => n));
    return engine;
  };
  const engine = engineFor(solo);
  const input = values.input === undefined ? null : inputOf(values.input as string, rate);
  const began = performance.now();
  const { left, right, beside } = playTake(engine, take, tail, set, undefined, input);
  const seconds = left.length / rate;
  const speed = seconds / ((performance.now() - began) / 1000);
  writeFile(out, wavOf(left, right, rate));
  const outputs = !values.outputs
    ? []
    : rig.pairs.map(({ name: pair }, n) => {
        const path = n === 0 ? out : besideOf(out, pair);
        if (n > 0) writeFile(path, wavOf(beside[2 * n - 2], beside[2 * n - 1], rate));
        return path;
      });
  // A file for each layer, heard alone through the same mix.
  const stems = !values.stems
    ? []
    : patch.layers
        .filter(({ id }) => solo.length === 0 || solo.includes(id))
        .map((layer) => {
          const path = besideOf(out, layer.name);
          const one = playTake(engineFor([layer.id]), take, tail, set, undefined, input);
          writeFile(path, wavOf(one.left, one.right, rate));
          return path;
        });
  return {
    seconds,
    peakDb: finite(dbOfGain(peakOf([left, right]))),
    loudness: finite(loudnessOf([left, right], rate)),
    voices: engine.mostVoices,
    speed: Math.round(speed * 10) / 10,
    ...(values.stems ? { stems } : {}),
    ...(values.outputs ? { outputs } : {}),
  };
}

/** A recording in the place of what comes in from outside, at the rate of the engine. */
function inputOf(path: string, rate: number): { left: Float32Array; right: Float32Array } {
  const { audio } = naming(path, () => readWav(readFile(path)));
  if (audio.rate !== rate)
    throw new Failure(
      `${path}: it has ${audio.rate} frames in a second, and ${rate} are rendered: give --rate ${audio.rate}`,
      2,
    );
  const channels = channelsOf(audio);
  return { left: channels[0], right: channels[1] ?? channels[0] };
}

/** The file beside another that holds a part of it by name. */
const besideOf = (out: string, name: string): string =>
  out.replace(/(\.wav)?$/i, ` - ${name.replace(/[^\p{L}\p{N} _-]+/gu, '')}.wav`);

/** A take of a whole show: its program changes go through the steps of the setlist. */
function renderShow(values: Record<string, unknown>, file: string): unknown {
  const takePath = required(values as never, 'take');
  const out = required(values as never, 'out');
  const rate = numberOption(values as never, 'rate', 22050, 192000, 48000);
  const seed = numberOption(values as never, 'seed', -(2 ** 31), 2 ** 31 - 1, 1);
  const tail = numberOption(values as never, 'tail', 0, 60, 2, false);
  const { rig: asItIs, wavs } = readArchiveFile(file);
  const rig = tunedRig(asItIs, values as never);
  const take = naming(takePath, () => readTake(readFile(takePath), ''));
  const steps = stepsOf(rig, setlistOf(rig));
  const programs = steps.map(
    ({ patch, entry }) =>
      patch && naming(`${file}: ${patch.name}`, () => compile(patchAsPlayed(patch, entry), contextOf(rig, rate))),
  );
  const engine = new Engine({ rate, seed });
  const there = new Set<string>();
  for (const request of programs.flatMap((program) => program?.samples ?? [])) {
    if (there.has(request.key)) continue;
    there.add(request.key);
    engine.addSample(
      request.key,
      naming(`${file}: ${request.sampleId}`, () =>
        prepare(request, needsNoFile(request) ? undefined : wavs.get(request.sampleId)!),
      ),
    );
  }
  const began = performance.now();
  const { left, right } = playShow(engine, (step) => programs[step] ?? null, take, tail);
  const seconds = left.length / rate;
  const speed = seconds / ((performance.now() - began) / 1000);
  writeFile(out, wavOf(left, right, rate));
  return {
    seconds,
    steps: steps.length,
    peakDb: finite(dbOfGain(peakOf([left, right]))),
    loudness: finite(loudnessOf([left, right], rate)),
    voices: engine.mostVoices,
    speed: Math.round(speed * 10) / 10,
  };
}

const wavOf = (left: Float32Array, right: Float32Array, rate: number): Uint8Array =>
  writeWav(interleaved(left, right, rate), { encoding: 'pcm24' });

/** Ids of the effects that are meant: by id, by kind, or all of a place by its name. */
function leftOut(patch: Patch, wanted: string): string[] {
  const effects = effectsIn(patch);
  const ids = effects
    .filter(
      ({ place, effect }) =>
        effect.id === wanted ||
        effect.kind === wanted ||
        effectKind(effect.kind).label === wanted ||
        nameOfPlace(patch, place) === wanted,
    )
    .map(({ effect }) => effect.id);
  if (ids.length === 0)
    throw new Failure(
      `--without ${wanted}: ${patch.name} has ${effects.map(({ place, effect }) => `${effect.kind} on ${nameOfPlace(patch, place)} (${effect.id})`).join(', ') || 'no effect'}`,
      2,
    );
  return ids;
}

/** JSON has no −Infinity; silence is null. */
const finite = (x: number): number | null => (Number.isFinite(x) ? x : null);
