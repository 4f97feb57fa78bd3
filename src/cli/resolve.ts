import { compile, contextOf } from '../core/engine/program/compile';
import { resolveStrikes } from '../core/engine/offline/resolve';
import { soundsOf } from '../core/rig/defaults';
import { parseKey } from '../core/music/noteNames';
import { numberOption, readArguments, required, setOptions } from './arguments';
import { Failure } from './failure';
import { findPatch, naming, readRigFile } from './files';
import { TUNING_OPTIONS, tunedRig } from './tuning';

/**
 * `resolve RIG --patch NAME --key N --velocity N …`: what sounds for a strike. Keys may be names with middle C as C4.
 */
export function resolve(args: string[]): unknown {
  const { values, file } = readArguments(
    args,
    {
      patch: { type: 'string' },
      key: { type: 'string' },
      velocity: { type: 'string' },
      set: { type: 'string', multiple: true },
      repeat: { type: 'string' },
      seed: { type: 'string' },
      channel: { type: 'string' },
      port: { type: 'string' },
      ...TUNING_OPTIONS,
    },
    'RIG',
  );
  const name = required(values, 'patch');
  const keyText = required(values, 'key');
  const key = parseKey(keyText);
  if (key === undefined)
    throw new Failure(`--key ${keyText}: expected a number from 0 to 127 or a name such as F#3`, 2);
  const velocity = numberOption(values, 'velocity', 1, 127);
  const repeat = numberOption(values, 'repeat', 1, 100000, 1);
  const seed = numberOption(values, 'seed', -(2 ** 31), 2 ** 31 - 1, 1);
  const channel = numberOption(values, 'channel', 1, 16, 1);
  const set = setOptions(values);
  const rig = tunedRig(readRigFile(file), values);
  const patch = findPatch(rig, name);
  const program = naming(`${file}: ${patch.name}`, () => compile(patch, contextOf(rig)));
  const portName = values.port as string | undefined;
  if (portName !== undefined && !rig.controllers.ports.includes(portName))
    throw new Failure(
      `--port ${portName}: the rig knows ${rig.controllers.ports.length ? rig.controllers.ports.join(', ') : 'no port by name'}`,
      2,
    );
  const port = portName === undefined ? 0 : rig.controllers.ports.indexOf(portName) + 1;
  const sampleName = new Map(rig.samples.map((sample) => [sample.id, sample.name]));
  const soundName = new Map(rig.sounds.map((sound) => [sound.id, sound.name]));
  return resolveStrikes(program, key, velocity, { set, repeat, seed, channel, port }).map((answers, i) => ({
    strike: i + 1,
    sounding: answers.map(
      ({ layer, choice, key: at, sampleId, gain, gainDb, touchDb, semitones, hz, pan, reversed, values: moved }) => ({
        layer: patch.layers[layer].name,
        sound: soundName.get(soundsOf(patch.layers[layer])[choice]),
        sample: sampleName.get(sampleId),
        key: at,
        gain,
        gainDb,
        touchDb,
        semitones,
        hz,
        pan,
        ...(reversed ? { reversed } : {}),
        values: moved,
      }),
    ),
  }));
}
