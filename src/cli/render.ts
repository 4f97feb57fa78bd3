import { performance } from 'node:perf_hooks';
import { prepareSample } from '../core/dsp/sample';
import { compile } from '../core/engine/compile';
import { Engine } from '../core/engine/engine';
import { playTake } from '../core/engine/playTake';
import { readTake } from '../core/formats/midiFile';
import { readWav, writeWav } from '../core/formats/wav';
import { loudnessOf, peakOf } from '../core/measure/loudness';
import { dbOfGain } from '../core/music/pitch';
import { numberOption, readArguments, required, setOptions } from './arguments';
import { Failure } from './failure';
import { findPatch, naming, readArchiveFile, readFile, writeFile } from './files';

/** `render RIG --patch NAME --take FILE.mid --out FILE.wav …`: plays a take through the engine. */
export function render(args: string[]): unknown {
  const { values, file } = readArguments(args, {
    patch: { type: 'string' }, take: { type: 'string' }, out: { type: 'string' }, rate: { type: 'string' }, seed: { type: 'string' }, tail: { type: 'string' }, set: { type: 'string', multiple: true },
    solo: { type: 'string', multiple: true }, tempo: { type: 'string' },
  }, 'RIG');
  const name = required(values, 'patch');
  const takePath = required(values, 'take');
  const out = required(values, 'out');
  const rate = numberOption(values, 'rate', 22050, 192000, 48000);
  const seed = numberOption(values, 'seed', -(2 ** 31), 2 ** 31 - 1, 1);
  const tail = numberOption(values, 'tail', 0, 60, 2, false);
  const set = setOptions(values);
  const { rig, wavs } = readArchiveFile(file);
  const patch = findPatch(rig, name);
  const tempo = values.tempo === undefined ? undefined : numberOption(values, 'tempo', 20, 400, undefined, false);
  const solo = ((values.solo as string[] | undefined) ?? []).map((wanted) => {
    const layer = patch.layers.find((candidate) => candidate.name === wanted || candidate.id === wanted);
    if (!layer) throw new Failure(`--solo ${wanted}: ${patch.name} has ${patch.layers.map((each) => each.name).join(', ') || 'no layer'}`, 2);
    return layer.id;
  });
  const take = naming(takePath, () => readTake(readFile(takePath), ''));
  const program = naming(`${file}: ${patch.name}`, () => compile(patch, { sounds: rig.sounds, samples: rig.samples, ...rig.controllers, rate }));
  const engine = new Engine({ rate, seed });
  const sampleName = new Map(rig.samples.map((sample) => [sample.id, sample.name]));
  for (const { key, sampleId, loop, levels, reverse } of program.samples) {
    const { audio } = naming(`${file}: ${sampleName.get(sampleId)}`, () => readWav(wavs.get(sampleId)!));
    engine.addSample(key, prepareSample(audio, loop, levels, reverse));
  }
  engine.setProgram(program);
  if (tempo !== undefined) engine.handle({ type: 'tempo', tempo });
  if (solo.length > 0) engine.handle({ type: 'solo', layerIds: solo });
  const began = performance.now();
  const { left, right } = playTake(engine, take, tail, set);
  const seconds = left.length / rate;
  const speed = seconds / ((performance.now() - began) / 1000);
  const data = new Float32Array(left.length * 2);
  for (let i = 0; i < left.length; i++) {
    data[2 * i] = left[i];
    data[2 * i + 1] = right[i];
  }
  writeFile(out, writeWav({ rate, channels: 2, data }, { encoding: 'pcm24' }));
  return { seconds, peakDb: finite(dbOfGain(peakOf([left, right]))), loudness: finite(loudnessOf([left, right], rate)), voices: engine.mostVoices, speed: Math.round(speed * 10) / 10 };
}

/** JSON has no −Infinity; silence is null. */
const finite = (x: number): number | null => (Number.isFinite(x) ? x : null);
