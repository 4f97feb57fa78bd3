import { buildSync } from 'esbuild';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeTake } from '../../src/core/formats/midiFile';
import { writeArchive } from '../../src/core/formats/rigArchive';
import { writeWav } from '../../src/core/formats/wav';
import { markAt, newLayer, newPatch, newRig, newSound, newZone } from '../../src/core/rig/defaults';
import { splitLayersAt } from '../../src/core/rig/edits/windows';

export const folder = mkdtempSync(join(tmpdir(), 'wavicle test '));
export const rigPath = join(folder, 'a rig.wavicle');
export const takePath = join(folder, 'take.mid');
afterAll(() => rmSync(folder, { recursive: true }));

export const wav = writeWav(
  {
    rate: 44100,
    channels: 1,
    data: Float32Array.from({ length: 44100 }, (_, i) => 0.4 * Math.sin((2 * Math.PI * 261.6 * i) / 44100)),
  },
  { root: 60 },
);
export const id = createHash('sha256').update(wav).digest('hex');
beforeAll(() => {
  const layers = [newLayer('a', 'Left', 's', markAt(0)), newLayer('b', 'Right', 's', markAt(1))];
  const patch = splitLayersAt({ ...newPatch('p', 'Low Tide'), layers }, 'a', 'b', 60, 0);
  const zone = { ...newZone(id, 60), key: { low: 0, high: 127, fadeIn: 0, fadeOut: 0, shape: 'sine' as const } };
  const rig = {
    ...newRig('r', 'R'),
    patches: [patch],
    samples: [{ id, name: 'c4.wav', rate: 44100, channels: 1, frames: 44100 }],
    sounds: [{ ...newSound('s', 'S'), zones: [zone] }],
  };
  writeFileSync(
    rigPath,
    writeArchive(rig, () => wav),
  );
  writeFileSync(
    takePath,
    writeTake(
      {
        name: 't',
        seconds: 1,
        events: [
          { at: 0, event: { type: 'noteOn', channel: 1, key: 60, velocity: 127 } },
          { at: 0.5, event: { type: 'noteOff', channel: 1, key: 60, velocity: 64 } },
        ],
      },
      120,
    ),
  );
});

/**
 * The command line, bundled once for all tests: as it is, it compiles its TypeScript anew at each call, which the first
 * test does.
 */
export const bundle = join('build', `cli-test-${process.pid}.mjs`);
beforeAll(() => {
  buildSync({
    entryPoints: ['src/cli/main.ts'],
    bundle: true,
    platform: 'node',
    format: 'esm',
    outfile: bundle,
    packages: 'external',
    logLevel: 'error',
  });
});
afterAll(() => rmSync(bundle, { force: true }));

export function wavicle(...args: string[]) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [bundle, ...args], { encoding: 'utf8' });
  return {
    status,
    json: stdout ? (JSON.parse(stdout) as never) : undefined,
    stderr: stderr
      .split('\n')
      .filter((line) => line.startsWith('wavicle') || line.includes('    at '))
      .join('\n'),
  };
}
